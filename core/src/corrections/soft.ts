import { finite } from '../planes/finite.ts';
import { boxBlurFour } from '../kernels/box.ts';
import { boxOfVariance, boxReach } from '../planes/box-blur.ts';
import type { AreaWindow } from './correction.ts';

const PASSES = 3;

/** A size in pixels is two standard deviations: about what the eye takes for the radius of a soft edge. */
const boxOf = (size: number) => boxOfVariance(size ** 2 / 4 / PASSES);

/** Pixels around each pixel that a softening of a size reads. */
export const reachOf = (size: number): number => (size > 0 ? boxReach(boxOf(size), PASSES) : 0);

/**
 * Means of a window, near to a Gaussian, of pixels by their weight: what has none does not bleed in, and light is kept.
 * Returns the area's means of weight * colour, and of the weights. The window's margin is {@link reachOf} the size.
 */
export function soften(
  { planes }: Pick<AreaWindow, 'planes'>,
  weights: Float32Array,
  size: number,
): { r: Float32Array; g: Float32Array; b: Float32Array; weights: Float32Array } {
  const { width, height, r, g, b } = planes;
  const box = boxOf(size);
  const count = weights.length;
  // What is no finite colour has no weight.
  const sound = new Float32Array(count);
  for (let i = 0; i < count; i++) if (finite(r[i]!, g[i]!, b[i]!)) sound[i] = weights[i]!;
  const weighted = (plane: Float32Array) => {
    const out = new Float32Array(count);
    for (let i = 0; i < count; i++) if (sound[i]! > 0) out[i] = plane[i]! * sound[i]!;
    return out;
  };
  const four = boxBlurFour([weighted(r), weighted(g), weighted(b), sound], width, height, box, PASSES);
  return { r: four[0], g: four[1], b: four[2], weights: four[3] };
}

/** The pixels of a plane of a window that belong to its area. */
export function inner(
  plane: Float32Array,
  { planes, margin }: Pick<AreaWindow, 'planes' | 'margin'>,
): Float32Array {
  const across = planes.width - 2 * margin;
  const down = planes.height - 2 * margin;
  const out = new Float32Array(across * down);
  for (let y = 0; y < down; y++) {
    const from = (y + margin) * planes.width + margin;
    out.set(plane.subarray(from, from + across), y * across);
  }
  return out;
}
