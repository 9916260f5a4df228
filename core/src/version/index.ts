/** A version's files: the picture found in them, put together, opened. */
export * from './beauty.ts';
export * from './merge.ts';
export * from './open-picture.ts';
