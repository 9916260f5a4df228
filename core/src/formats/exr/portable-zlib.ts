import { unzlibSync, zlibSync } from 'fflate';
import type { Zlib } from './compression/compression.ts';

/** zlib in JavaScript, for browsers. */
export const portableZlib: Zlib = {
  inflate: (data, size) => unzlibSync(data, { out: new Uint8Array(size) }),
  deflate: (data) => zlibSync(data, { level: 4 }),
};
