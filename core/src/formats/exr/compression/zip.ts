import { predictBlock, unzipBlock } from '../../../kernels/exr.ts';
import { ExrError } from '../errors.ts';
import type { Compression } from './compression.ts';
import { unshuffle } from './predictor.ts';
import { putSplitLines } from './split-lines.ts';

const damaged = () => new ExrError('damaged', 'A ZIP block of the file cannot be unpacked.');

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
        throw damaged();
      }
      if (coded.length !== size) throw new ExrError('damaged', 'A ZIP block of the file has the wrong size.');
      return unshuffle(coded);
    },
    unpack(data, size, layout, wanted, put) {
      const block = unzipBlock(data, size);
      if (!block) throw damaged();
      putSplitLines(block, layout, wanted, put);
    },
    encode: (raw, _layout, zlib) => zlib.deflate(predictBlock(raw)),
  };
}

/** zlib over single lines. */
export const zips = zipOf('zips', 2, 1);
/** zlib over blocks of 16 lines. */
export const zip = zipOf('zip', 3, 16);
