/** Formats of pictures, by a registry. */
export type { ImageReader } from './reader.ts';
export * from './registry.ts';
