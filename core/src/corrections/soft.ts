import { finite } from '../planes/finite.ts';
import { boxBlur, boxOfVariance, boxReach } from '../planes/box-blur.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { AreaWindow } from './correction.ts';

const PASSES = 3;

/** A size in pixels is two standard deviations: about what the eye takes for the radius of a soft edge. */
const boxOf = (size: number) => boxOfVariance(size ** 2 / 4 / PASSES);

/** Pixels around each pixel that a softening of a size reads. */
export const reachOf = (size: number): number => (size > 0 ? boxReach(boxOf(size), PASSES) : 0);

/**
 * Means of a window, near to a Gaussian, of pixels by their weight: what has none does not bleed in, and light is kept.
 * Returns colours of weight * value and the weights, both softened, of the whole window.
 */
export function soften(
  { planes }: Pick<AreaWindow, 'planes'>,
  weights: Float32Array,
  size: number,
): { colours: RgbPlanes; weights: Float32Array } {
  const { width, height } = planes;
  const box = boxOf(size);
  // What is no finite colour has no weight.
  const sound = weights.map((w, i) => (finite(planes.r[i]!, planes.g[i]!, planes.b[i]!) ? w : 0));
  const weighted = (plane: Float32Array) => {
    const out = plane.map((v, i) => (sound[i]! > 0 ? v * sound[i]! : 0));
    boxBlur(out, width, height, box, PASSES);
    return out;
  };
  const softened = sound.slice();
  boxBlur(softened, width, height, box, PASSES);
  return {
    colours: {
      width,
      height,
      r: weighted(planes.r),
      g: weighted(planes.g),
      b: weighted(planes.b),
    },
    weights: softened,
  };
}

/** Calls `write` for each pixel of the area with its place in the window and in the area. */
export function eachInside(
  { planes, margin }: Pick<AreaWindow, 'planes' | 'margin'>,
  write: (from: number, to: number) => void,
): void {
  const across = planes.width - 2 * margin;
  const down = planes.height - 2 * margin;
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++) write((y + margin) * planes.width + x + margin, y * across + x);
}
