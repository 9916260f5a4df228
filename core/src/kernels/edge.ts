import { BYTES } from './generated/edge.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  grow(
    src: number,
    width: number,
    height: number,
    margin: number,
    by: number,
    offsets: number,
    count: number,
    rows: number,
    out: number,
  ): void;
}

/** A place around a pixel, between four others: the upper left one of those, and what each of them weighs. */
interface Place {
  x: number;
  y: number;
  weights: readonly number[];
}

let kernel: Exports | undefined;

/**
 * What `moveEdgePlain` makes of a window, to 32 bits.
 * @param sign 1 outwards, -1 inwards
 * @param by half of the side of a square that holds all places, no more than the margin
 * @param out the area, row-major, written
 */
export function growEdge(
  coverage: Float32Array,
  { width, margin }: { width: number; margin: number },
  places: readonly Place[],
  by: number,
  sign: number,
  out: Float32Array,
): void {
  const k = (kernel ??= loadKernel<Exports>(BYTES));
  const height = coverage.length / width;
  const plane = 4 * coverage.length + PAD;
  const src = aligned(k.heap());
  const rows = aligned(src + plane);
  const target = aligned(rows + plane);
  const offsets = aligned(target + plane);
  const { buffer } = memoryUpTo(k, offsets + 32 * places.length + PAD);
  const own = new Float32Array(buffer, src, coverage.length);
  if (sign > 0) own.set(coverage);
  else for (let i = 0; i < own.length; i++) own[i] = -coverage[i]!;
  const words = new Int32Array(buffer, offsets, 8 * places.length);
  const numbers = new Float32Array(buffer, offsets, 8 * places.length);
  places.forEach(({ x, y, weights }, i) => {
    words[8 * i] = 4 * (y * width + x);
    numbers.set(weights, 8 * i + 4);
  });
  k.grow(src, width, height, margin, by, offsets, places.length, rows, target);
  const found = new Float32Array(buffer, target, coverage.length);
  const across = width - 2 * margin;
  for (let i = 0, y = 0; i < out.length; y++)
    for (let x = 0; x < across; x++, i++) out[i] = sign * found[y * width + x]!;
}
