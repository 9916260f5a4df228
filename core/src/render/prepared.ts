import { sampleTexture } from '../scene/texture.ts';
import type { Scene, SceneMaterial } from '../scene/scene.ts';
import { buildBvh, type Bvh } from './bvh.ts';
import { ASK, RAY, type Tree } from './plain/tracer.ts';

/** A scene with its search trees: what render threads start from. */
export interface Prepared {
  scene: Scene;
  /** One for what rests and, if anything moves, one for that. */
  bvhs: Bvh[];
}

/** Builds the search trees of a scene. */
export function prepare(scene: Scene): Prepared {
  const { positions, positionsEnd, indices, firstMoving } = scene;
  const bvhs: Bvh[] = [];
  if (firstMoving > 0) bvhs.push(buildBvh(positions, indices, { from: 0, to: firstMoving }));
  if (firstMoving < indices.length / 3)
    bvhs.push(buildBvh(positions, indices, { from: firstMoving, to: indices.length / 3 }, positionsEnd));
  return { scene, bvhs };
}

/** Typical path length inside solid glass that stands for the true one in shadows, in scene units. */
const SHADOW_DEPTH = 0.012;

/**
 * The share of light that a material lets pass in shadows. Shadows of glass are drawn straight, without bending: an
 * approximation, but it avoids both black shadows and the noise of true caustics.
 */
function shadowTint(m: SceneMaterial): [number, number, number] {
  if (m.alphaMode !== 'opaque') {
    if (m.colourMap) return [ASK, ASK, ASK];
    const share = m.alphaMode === 'mask' ? (m.alpha < m.cutoff ? 1 : 0) : 1 - m.alpha;
    return [share, share, share];
  }
  if (m.transmission === 0) return [0, 0, 0];
  const through = (k: 0 | 1 | 2) =>
    0.93 *
    m.transmission *
    (1 - m.metalness) *
    m.colour[k] *
    Math.exp(-(m.absorption?.[k] ?? 0) * SHADOW_DEPTH);
  return [through(0), through(1), through(2)];
}

/** The trees with what rays need to know of each triangle. */
export function treesOf({ scene, bvhs }: Prepared): Tree[] {
  const tints = scene.materials.map(shadowTint);
  const all = RAY.camera | RAY.reflection | RAY.refraction | RAY.shadow | RAY.bounce;
  return bvhs.map((bvh): Tree => {
    const visible = new Uint8Array(bvh.order.length);
    const tint = new Float32Array(3 * bvh.order.length);
    for (let i = 0; i < bvh.order.length; i++) {
      const part = scene.parts[scene.trianglePart[bvh.order[i]!]!]!;
      const seen = scene.objects[part.object]!.visible ?? all;
      visible[i] = part.role === 'away' ? seen & ~RAY.camera : seen;
      tint.set(tints[part.material]!, 3 * i);
    }
    return { bvh, visible, tint };
  });
}

const texel = new Float64Array(4);

/** Coordinates of a texture at a point of a triangle, into `out`. */
export function textureAt(
  scene: Scene,
  use: NonNullable<SceneMaterial['colourMap']>,
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
