import { b44, b44a } from './b44.ts';
import type { Compression } from './compression.ts';
import { dwaa, dwab } from './dwa.ts';
import { none } from './none.ts';
import { piz } from './piz.ts';
import { pxr24 } from './pxr24.ts';
import { rle } from './rle.ts';
import { zip, zips } from './zip.ts';

/** Every compression that can be read. */
export const COMPRESSIONS: readonly Compression[] = [none, rle, zips, zip, piz, pxr24, b44, b44a, dwaa, dwab];
