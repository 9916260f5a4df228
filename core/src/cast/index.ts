/** The cast: everything in a version that has an ID. */
export * from './cast.ts';
