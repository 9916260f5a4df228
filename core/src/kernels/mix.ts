import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { BYTES } from './generated/mix.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  mix(before: number, now: number, plane: number, shares: number, amount: number): void;
}

let kernel: Exports | undefined;

type Colours = Pick<RgbPlanes, 'r' | 'g' | 'b'>;

/** The first `count` pixels of `mixPlain`, within what 32 bits hold. */
export function mixPlanes(
  before: Colours,
  now: Colours,
  count: number,
  amount: number,
  shares?: Float32Array,
): void {
  const k = (kernel ??= loadKernel<Exports>(BYTES));
  const plane = (4 * count + 15) & ~15;
  const from = aligned(k.heap());
  const to = from + 3 * plane;
  const weights = to + 3 * plane;
  const memory = memoryUpTo(k, weights + plane + PAD);
  const at = (address: number) => new Float32Array(memory.buffer, address, count);
  const part = (p: Float32Array) => (p.length === count ? p : p.subarray(0, count));
  [before.r, before.g, before.b].forEach((p, i) => at(from + i * plane).set(part(p)));
  [now.r, now.g, now.b].forEach((p, i) => at(to + i * plane).set(part(p)));
  if (shares) at(weights).set(part(shares));
  else at(weights).fill(1);
  k.mix(from, to, plane, weights, amount);
  [now.r, now.g, now.b].forEach((p, i) => p.set(at(to + i * plane)));
}
