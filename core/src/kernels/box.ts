import { boxReach, type Box } from '../planes/box-blur.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { BYTES } from './generated/box.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  weigh(src: number, plane: number, dst: number): void;
  part(src: number, dst: number, plane: number): void;
  towards(src: number, own: number, plane: number, by: number): void;
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

/** A window's pixels blurred in the kernel's memory: where they are, and where there is room for seven planes of them. */
interface Blurred {
  k: Exports;
  at: number;
  free: number;
  /** How many pixels, and bytes of a plane of them. */
  count: number;
  plane: number;
}

function blurred(
  { width, height, r, g, b }: RgbPlanes,
  weights: Float32Array,
  box: Box,
  times: number,
): Blurred {
  const k = (kernel ??= loadKernel<Exports>(BYTES));
  const less = 2 * boxReach(box, times);
  const count = (width - less) * (height - less);
  const plane = planeBytes(count);
  // Pixels side by side, with a row that may be read behind them; planes to begin with share the second place.
  const whole = planeBytes(width * height);
  const size = 4 * whole + 16 * width + PAD;
  const first = aligned(k.heap());
  const second = aligned(first + size);
  const sums = aligned(second + size);
  const free = aligned(sums + 32 * width);
  const memory = memoryUpTo(k, free + 7 * plane + PAD);
  [r, g, b, weights].forEach((p, i) => new Float32Array(memory.buffer, second + i * whole, p.length).set(p));
  k.weigh(second, whole, first);
  const still = box.whole === 0 && box.rest === 0;
  const at = still ? first : k.blur(first, second, sums, width, height, box.whole, box.rest, times);
  return { k, at, free, count, plane };
}

const planeAt = ({ k, free, count, plane }: Blurred, i: number) =>
  new Float32Array(k.memory.buffer, free + i * plane, count);

/**
 * A window blurred by a box, across and down, so many times, like `boxBlur` of each of four planes: colours times
 * weights, and the weights. Of them there is what does not look beyond the border. Pixels that are no finite colour
 * weigh nothing. Results are copies.
 */
export function boxBlurWeighed(planes: RgbPlanes, weights: Float32Array, box: Box, times: number) {
  const found = blurred(planes, weights, box, times);
  found.k.part(found.at, found.free, found.plane);
  const [r, g, b, w] = [0, 1, 2, 3].map((i) => planeAt(found, i).slice());
  return { r: r!, g: g!, b: b!, weights: w! };
}

/**
 * Brings `inner`, the pixels of the window that do not look beyond its border, by so much towards the mean around each,
 * weighed and blurred as by {@link boxBlurWeighed}: 1 is the mean, below 0 is away from it. Written in place.
 */
export function boxTowardsMean(
  planes: RgbPlanes,
  weights: Float32Array,
  box: Box,
  times: number,
  by: number,
  inner: RgbPlanes,
): void {
  const found = blurred(planes, weights, box, times);
  const own = [inner.r, inner.g, inner.b];
  own.forEach((p, i) => planeAt(found, i).set(p));
  found.k.towards(found.at, found.free, found.plane, by);
  own.forEach((p, i) => p.set(planeAt(found, i)));
}
