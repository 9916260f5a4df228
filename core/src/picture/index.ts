/** The picture of a file: found, corrected, written. */
export * from './picture.ts';
export * from './corrected.ts';
export * from './merge.ts';
export * from './png.ts';
export * from './mask-file.ts';
