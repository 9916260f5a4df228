import { BYTES } from './generated/piz.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  unhuff(p: number, n: number, out: number, size: number): number;
  unwavelet(words: number, nx: number, ox: number, ny: number, oy: number, maximum: number): void;
  makeValues(bitmap: number): number;
  toValues(words: number, n: number): void;
}

let kernel: Exports | undefined;
const piz = (): Exports => (kernel ??= loadKernel<Exports>(BYTES));

/** The words of one channel in a block. */
export interface WordPlane {
  columns: number;
  rows: number;
  /** 16-bit words a sample. */
  words: number;
  wanted: boolean;
}

/**
 * Undoes Huffman code, wavelet and table of one block.
 * @param coded the Huffman-coded part
 * @param bitmap 8192 bytes, one bit for each value that occurs
 * @param planes the channels in the order of the block
 * @returns the samples of each wanted plane, valid until the next call; undefined if the code is damaged
 */
export function unpizBlock(
  coded: Uint8Array,
  bitmap: Uint8Array,
  planes: readonly WordPlane[],
): (Uint8Array | undefined)[] | undefined {
  const k = piz();
  const size = planes.reduce((sum, p) => sum + p.columns * p.rows * p.words, 0);
  const words = k.heap();
  const map = aligned(words + 2 * size + PAD);
  const source = aligned(map + bitmap.length + PAD);
  const memory = memoryUpTo(k, source + coded.length + PAD);
  memory.set(bitmap, map);
  memory.set(coded, source);
  const maximum = k.makeValues(map);
  if (coded.length === 0 && size === 0) return planes.map(() => new Uint8Array(0));
  if (k.unhuff(source, coded.length, words, size) !== 0) return undefined;
  let at = words;
  return planes.map((p) => {
    const from = at;
    const count = p.columns * p.rows * p.words;
    at += 2 * count;
    if (!p.wanted) return undefined;
    // A 32-bit sample is two interleaved planes of words, each transformed on its own.
    for (let w = 0; w < p.words; w++)
      k.unwavelet(from + 2 * w, p.columns, p.words, p.rows, p.columns * p.words, maximum);
    k.toValues(from, count);
    return memory.subarray(from, from + 2 * count);
  });
}
