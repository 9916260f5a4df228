/** OpenEXR files: any number of parts, of half, float and uint channels, in lines or tiles; all attributes kept. */
export * from './errors.ts';
export * from './types.ts';
export * from './attributes.ts';
export * from './samples.ts';
export { readExr, readExrBy, readExrOutline, type ExrOutline, type ReadOptions } from './read.ts';
export {
  writeExr,
  writeExrParts,
  WRITABLE_COMPRESSIONS,
  type WriteInput,
  type WriteOptions,
} from './write.ts';
export type { Zlib } from './compression/compression.ts';
export { portableZlib } from './portable-zlib.ts';
