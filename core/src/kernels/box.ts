import { boxReach, type Box } from '../planes/box-blur.ts';
import { BYTES } from './generated/box.ts';
import { aligned, loadKernel, memoryUpTo, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  blur(
    a: number,
    b: number,
    width: number,
    height: number,
    whole: number,
    rest: number,
    times: number,
  ): number;
}

let kernel: Exports | undefined;

type Four = readonly [Float32Array, Float32Array, Float32Array, Float32Array];

/**
 * Four planes of a window blurred by a box, across and down, so many times, like `boxBlur` of each: of them there is
 * what does not look beyond the border.
 */
export function boxBlurFour(planes: Four, width: number, height: number, box: Box, times: number): Four {
  const k = (kernel ??= loadKernel<Exports>(BYTES));
  const size = 16 * width * (height + 1);
  const a = aligned(k.heap());
  const b = aligned(a + size);
  const memory = memoryUpTo(k, b + size);
  const count = width * height;
  const own = new Float32Array(memory.buffer, a, 4 * count);
  planes.forEach((plane, channel) => {
    for (let i = 0, to = channel; i < count; i++, to += 4) own[to] = plane[i]!;
  });
  const still = box.whole === 0 && box.rest === 0;
  const at = still ? a : k.blur(a, b, width, height, box.whole, box.rest, times);
  const less = 2 * boxReach(box, times);
  const left = (width - less) * (height - less);
  const result = new Float32Array(memory.buffer, at, 4 * left);
  return planes.map((_, channel) => {
    const out = new Float32Array(left);
    for (let i = 0, from = channel; i < left; i++, from += 4) out[i] = result[from]!;
    return out;
  }) as unknown as Four;
}
