import type { Zlib } from '../formats/exr/compression/compression.ts';
import { predictBlock, unzipBlock } from '../kernels/exr.ts';
import { murmur3 } from '../idlayers/murmur3.ts';
import { indexOfRuns, type IdIndex, type IdIndexRuns } from './id-index.ts';

/** Counts up whenever the bytes of a stored index, or what they mean, change; older ones are made anew. */
export const INDEX_FORMAT = 3;
const MAGIC = 0x5a434958;
const HEAD = 10;

/**
 * An ID index as bytes, for keeping: a head of ten 32-bit numbers, the last a sum of what follows, then all arrays end to end, rows and runs as steps,
 * through the predictor and zlib.
 */
export function packIndex(index: IdIndexRuns, zlib: Zlib): Uint8Array<ArrayBuffer> {
  const { width, height, ids, rowStart, slot, pixel, length, coverage, pixelsOf, coverageOf, over, broken } =
    index;
  const runs = slot.length;
  const members = ids.length;
  const words = new Uint32Array(4 * members + height + 4 * runs);
  let at = 0;
  const put = (array: Uint32Array | Float32Array | Float64Array) => {
    words.set(new Uint32Array(array.buffer, array.byteOffset, array.byteLength / 4), at);
    at += array.byteLength / 4;
  };
  put(coverageOf);
  put(ids);
  put(pixelsOf);
  for (let y = 0; y < height; y++) words[at++] = rowStart[y + 1]! - rowStart[y]!;
  put(slot);
  for (let y = 0; y < height; y++)
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) words[at++] = pixel[i]! - y * width;
  put(length);
  put(coverage);
  const body = new Uint8Array(words.buffer);
  const packed = zlib.deflate(predictBlock(body));
  const out = new Uint8Array(4 * HEAD + packed.length);
  new Uint32Array(out.buffer, 0, HEAD).set([
    MAGIC,
    INDEX_FORMAT,
    width,
    height,
    members,
    runs,
    over,
    broken,
    body.length,
    murmur3(packed),
  ]);
  out.set(packed, 4 * HEAD);
  return out;
}

/**
 * Takes a stored index for a picture of this size; undefined if it is of another format or size or damaged, so that it
 * is made anew. Nothing in it is trusted: a run that would leave its row is damage.
 */
export function unpackIndex(bytes: Uint8Array, width: number, height: number): IdIndex | undefined {
  if (bytes.length < 4 * HEAD) return undefined;
  const head = new Uint32Array(bytes.slice(0, 4 * HEAD).buffer);
  const [magic, format, w, h, members, runs, over, broken, size, sum] = [...head] as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (magic !== MAGIC || format !== INDEX_FORMAT || w !== width || h !== height) return undefined;
  if (size !== 4 * (4 * members + height + 4 * runs) || size > 2 ** 31) return undefined;
  // What is damaged may still look like an index: of other things.
  if (murmur3(bytes.subarray(4 * HEAD)) !== sum) return undefined;
  const body = unzipBlock(bytes.subarray(4 * HEAD), size)
    ?.bytes(0, size)
    .slice();
  if (!body) return undefined;
  let at = 0;
  const take = (count: number) => new Uint32Array(body.buffer, (at += 4 * count) - 4 * count, count);
  const coverageOf = new Float64Array(body.buffer, 0, members);
  at = 8 * members;
  const ids = take(members);
  const pixelsOf = take(members);
  const rows = take(height);
  const slot = take(runs);
  const pixel = take(runs);
  const length = take(runs);
  const coverage = new Float32Array(body.buffer, at, runs);
  const rowStart = new Uint32Array(height + 1);
  for (let y = 0; y < height; y++) rowStart[y + 1] = rowStart[y]! + rows[y]!;
  if (rowStart[height] !== runs || new Set(ids).size !== members) return undefined;
  for (let y = 0; y < height; y++) {
    if (rowStart[y + 1]! < rowStart[y]! || rowStart[y + 1]! > runs) return undefined;
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
      const x = pixel[i]!;
      if (
        slot[i]! >= members ||
        x >= width ||
        length[i]! < 1 ||
        length[i]! > width - x ||
        !(coverage[i]! > 0)
      )
        return undefined;
      pixel[i] = y * width + x;
    }
  }
  return indexOfRuns({
    width,
    height,
    ids,
    rowStart,
    slot,
    pixel,
    length,
    coverage,
    pixelsOf,
    coverageOf,
    over,
    broken,
  });
}
