import type { Compression } from './compression.ts';
import { none } from './none.ts';
import { piz } from './piz.ts';
import { rle } from './rle.ts';
import { zip, zips } from './zip.ts';

/** Every compression that can be read and written. */
export const COMPRESSIONS: readonly Compression[] = [none, rle, zips, zip, piz];
