import { ExrError } from '../errors.ts';
import type { Compression } from './compression.ts';
import { shuffle, unshuffle } from './predictor.ts';

function zipOf(name: string, number: number, linesPerBlock: number): Compression {
  return {
    name,
    number,
    linesPerBlock,
    decode(data, size, _layout, zlib) {
      let coded: Uint8Array;
      try {
        coded = zlib.inflate(data, size);
      } catch {
        throw new ExrError('damaged', 'A ZIP block of the file cannot be unpacked.');
      }
      if (coded.length !== size) throw new ExrError('damaged', 'A ZIP block of the file has the wrong size.');
      return unshuffle(coded);
    },
    encode: (raw, zlib) => zlib.deflate(shuffle(raw)),
  };
}

/** zlib over single lines. */
export const zips = zipOf('zips', 2, 1);
/** zlib over blocks of 16 lines. */
export const zip = zipOf('zip', 3, 16);
