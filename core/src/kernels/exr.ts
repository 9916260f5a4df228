import { BYTES } from './generated/exr.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  inflate(src: number, n: number, dst: number, size: number): number;
  unpredict(p: number, n: number): void;
  weave(p: number, half: number, from: number, count: number, dst: number): void;
  predict(src: number, n: number, dst: number): void;
}

let kernel: Exports | undefined;
const exr = (): Exports => (kernel ??= loadKernel<Exports>(BYTES));

/** A block that was unpacked in the kernel's memory, still split into even and odd bytes. */
export interface SplitBlock {
  /** Raw bytes `from` to `from + count`, both even; valid until the next call of any function here. */
  bytes(from: number, count: number): Uint8Array;
}

function split(k: Exports, at: number, size: number, rowAt: number): SplitBlock {
  k.unpredict(at, size);
  const half = (size + 1) >> 1;
  return {
    bytes(from, count) {
      const memory = memoryUpTo(k, rowAt + count + PAD);
      k.weave(at, half, from, count, rowAt);
      return memory.subarray(rowAt, rowAt + count);
    },
  };
}

/** Inflates a zlib stream of exactly `size` bytes and undoes the predictor; undefined if the stream is damaged. */
export function unzipBlock(data: Uint8Array, size: number): SplitBlock | undefined {
  const k = exr();
  const block = k.heap();
  const source = aligned(block + size + PAD);
  const row = aligned(source + data.length + PAD);
  memoryUpTo(k, row + PAD).set(data, source);
  return k.inflate(source, data.length, block, size) === 0 ? split(k, block, size, row) : undefined;
}

/** Inflates a zlib stream of exactly `size` bytes; a copy. Throws if the stream is damaged. */
export function inflateBlock(data: Uint8Array, size: number): Uint8Array {
  const k = exr();
  const block = k.heap();
  const source = aligned(block + size + PAD);
  const memory = memoryUpTo(k, source + data.length + PAD);
  memory.set(data, source);
  if (k.inflate(source, data.length, block, size) !== 0) throw new Error('The stream is damaged.');
  return memory.slice(block, block + size);
}

/** Undoes the predictor of bytes that another code has unpacked. */
export function unpredictBlock(coded: Uint8Array): SplitBlock {
  const k = exr();
  const block = k.heap();
  const row = aligned(block + coded.length + PAD);
  memoryUpTo(k, row + PAD).set(coded, block);
  return split(k, block, coded.length, row);
}

/** The predictor: raw bytes to differences, even bytes first. A copy. */
export function predictBlock(raw: Uint8Array): Uint8Array {
  const k = exr();
  const source = k.heap();
  const coded = aligned(source + raw.length + PAD);
  const memory = memoryUpTo(k, coded + raw.length + PAD);
  memory.set(raw, source);
  k.predict(source, raw.length, coded);
  return memory.slice(coded, coded + raw.length);
}
