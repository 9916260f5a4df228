import { predictBlock, unpredictBlock } from '../../../kernels/exr.ts';
import { ExrError } from '../errors.ts';
import type { Compression } from './compression.ts';
import { unshuffle } from './predictor.ts';
import { putSplitLines } from './split-lines.ts';

const MIN_RUN = 3;
const MAX_RUN = 127;

/** Undoes runs of bytes to exactly `size` of them. */
export function decodeRuns(data: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  let i = 0;
  while (i < data.length) {
    const count = (data[i++]! << 24) >> 24;
    const length = count < 0 ? -count : count + 1;
    if (at + length > size || i + (count < 0 ? length : 1) > data.length)
      throw new ExrError('damaged', 'A run-length block does not add up.');
    if (count < 0) {
      out.set(data.subarray(i, i + length), at);
      i += length;
    } else out.fill(data[i++]!, at, at + length);
    at += length;
  }
  if (at !== size) throw new ExrError('damaged', 'A run-length block is too short.');
  return out;
}

function encodeRuns(data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length + Math.ceil(data.length / MAX_RUN) + 1);
  let at = 0;
  let start = 0;
  while (start < data.length) {
    let end = start + 1;
    while (end < data.length && data[end] === data[start] && end - start - 1 < MAX_RUN) end++;
    if (end - start >= MIN_RUN) {
      out[at++] = end - start - 1;
      out[at++] = data[start]!;
    } else {
      // Literal bytes up to the next run worth coding.
      while (
        end < data.length &&
        end - start < MAX_RUN &&
        !(end + 2 < data.length && data[end] === data[end + 1] && data[end] === data[end + 2])
      )
        end++;
      out[at++] = 256 - (end - start);
      out.set(data.subarray(start, end), at);
      at += end - start;
    }
    start = end;
  }
  return out.subarray(0, at);
}

export const rle: Compression = {
  name: 'rle',
  number: 1,
  linesPerBlock: 1,
  decode: (data, size) => unshuffle(decodeRuns(data, size)),
  unpack: (data, size, layout, wanted, put) =>
    putSplitLines(unpredictBlock(decodeRuns(data, size)), layout, wanted, put),
  encode: (raw) => encodeRuns(predictBlock(raw)),
};
