import { boxReach, type Box } from '../planes/box-blur.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { BYTES } from './generated/box.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  weigh(src: number, plane: number, dst: number): void;
  part(src: number, dst: number, plane: number): void;
  blur(
    a: number,
    b: number,
    sums: number,
    width: number,
    height: number,
    whole: number,
    rest: number,
    times: number,
  ): number;
}

let kernel: Exports | undefined;

/** Bytes of a plane of so many numbers, in whole vectors. */
const planeBytes = (count: number): number => (4 * count + 15) & ~15;

/**
 * A window blurred by a box, across and down, so many times, like `boxBlur` of each of four planes: colours times
 * weights, and the weights. Of them there is what does not look beyond the border. Pixels that are no finite colour
 * weigh nothing. Results are copies.
 */
export function boxBlurWeighed(
  { width, height, r, g, b }: RgbPlanes,
  weights: Float32Array,
  box: Box,
  times: number,
): { r: Float32Array; g: Float32Array; b: Float32Array; weights: Float32Array } {
  const k = (kernel ??= loadKernel<Exports>(BYTES));
  // Pixels side by side, with a row that may be read behind them; planes to begin with share the second place.
  const plane = planeBytes(width * height);
  const size = 4 * plane + 16 * width + PAD;
  const first = aligned(k.heap());
  const second = aligned(first + size);
  const sums = aligned(second + size);
  const end = sums + 32 * width + PAD;
  const at = (memory: Uint8Array, from: number, count: number) =>
    new Float32Array(memory.buffer, from, count);
  const memory = memoryUpTo(k, end);
  [r, g, b, weights].forEach((p, i) => at(memory, second + i * plane, p.length).set(p));
  k.weigh(second, plane, first);
  const still = box.whole === 0 && box.rest === 0;
  const found = still ? first : k.blur(first, second, sums, width, height, box.whole, box.rest, times);
  const less = 2 * boxReach(box, times);
  const left = (width - less) * (height - less);
  const bytes = planeBytes(left);
  const to = found === first ? second : first;
  k.part(found, to, bytes);
  const out = (i: number) => at(memory, to + i * bytes, left).slice();
  return { r: out(0), g: out(1), b: out(2), weights: out(3) };
}
