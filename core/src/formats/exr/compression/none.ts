import { ExrError } from '../errors.ts';
import type { Compression } from './compression.ts';

export const none: Compression = {
  name: 'none',
  number: 0,
  linesPerBlock: 1,
  decode(data, size) {
    if (data.length !== size) throw new ExrError('damaged', 'An uncompressed block has the wrong size.');
    return data;
  },
  encode: (raw) => raw,
};
