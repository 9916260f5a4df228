import type { SceneMaterial } from '../scene/scene.ts';

/** Tint of triangles whose transparency differs from point to point. */
export const ASK = -1;

/** Typical path length inside solid glass that stands for the true one in shadows, in scene units. */
const SHADOW_DEPTH = 0.012;

/**
 * The share of light that a material lets pass in shadows; the first is ASK where a texture decides. Shadows of glass are
 * drawn straight, without bending: an approximation, but it avoids both black shadows and the noise of true caustics.
 */
export function shadowTint(m: SceneMaterial): [number, number, number] {
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
