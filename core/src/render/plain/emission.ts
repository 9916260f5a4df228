import type { Scene, SceneMaterial } from '../../scene/scene.ts';
import { textureAt } from './textures.ts';

const texel = new Float64Array(4);

/** Light that a material sends out at a point of a triangle, into `out`; false for none. */
export function emissionAt(
  scene: Scene,
  m: SceneMaterial,
  triangle: number,
  u: number,
  v: number,
  out: Float64Array,
): boolean {
  if (m.emission[0] + m.emission[1] + m.emission[2] <= 0) return false;
  out.set(m.emission);
  if (m.emissionMap) {
    textureAt(scene, m.emissionMap, triangle, u, v, true, texel);
    for (let i = 0; i < 3; i++) out[i]! *= texel[i]!;
  }
  return true;
}
