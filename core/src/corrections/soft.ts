import { boxBlurWeighed, boxTowardsMean } from '../kernels/box.ts';
import { boxOfVariance, boxReach } from '../planes/box-blur.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
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
export const soften = ({ planes }: Pick<AreaWindow, 'planes'>, weights: Float32Array, size: number) =>
  boxBlurWeighed(planes, weights, boxOf(size), PASSES);

/** Blends each pixel with the mean of what the mask covers around it; 1 is the mean, below 0 is away from it. */
export function towardsMean(window: AreaWindow, size: number, by: number, out: RgbPlanes): void {
  for (const k of ['r', 'g', 'b'] as const) out[k].set(inner(window.planes[k], window));
  boxTowardsMean(window.planes, window.coverage, boxOf(size), PASSES, by, out);
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
