import { sampleTexture } from '../../scene/texture.ts';
import type { Scene, SceneMaterial, TextureUse } from '../../scene/scene.ts';

const texel = new Float64Array(4);

/** Samples a texture at a point of a triangle, into `out`. */
export function textureAt(
  scene: Scene,
  use: TextureUse,
  triangle: number,
  u: number,
  v: number,
  srgb: boolean,
  out: Float64Array,
): void {
  const { uvs, indices } = scene;
  const [a, b, c] = [indices[3 * triangle]!, indices[3 * triangle + 1]!, indices[3 * triangle + 2]!];
  const set = 2 * use.set;
  const w = 1 - u - v;
  const s = w * uvs[4 * a + set]! + u * uvs[4 * b + set]! + v * uvs[4 * c + set]!;
  const t = w * uvs[4 * a + set + 1]! + u * uvs[4 * b + set + 1]! + v * uvs[4 * c + set + 1]!;
  const m = use.transform;
  sampleTexture(use.texture, m[0] * s + m[1] * t + m[2], m[3] * s + m[4] * t + m[5], srgb, out);
}

/** Opacity of a material at a point: 0 lets everything pass. A mask gives 0 or 1. */
export function opacityAt(scene: Scene, m: SceneMaterial, triangle: number, u: number, v: number): number {
  if (m.alphaMode === 'opaque') return 1;
  let alpha = m.alpha;
  if (m.colourMap) {
    textureAt(scene, m.colourMap, triangle, u, v, false, texel);
    alpha *= texel[3]!;
  }
  return m.alphaMode === 'mask' ? (alpha < m.cutoff ? 0 : 1) : alpha;
}
