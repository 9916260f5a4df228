/** What the core needs from Node where there is one: native zlib and threads. */
export * from './zlib.ts';
export * from './crew.ts';
export * from './attention.ts';
export type { Look } from './growing-picture.ts';
export * from './probe.ts';
export * from './render-clock.ts';
export * from './render-pool.ts';
export * from './render-frame.ts';
export * from './paper.ts';
export * from './hand-over/folder.ts';
export * from './hand-over/hand-over.ts';
