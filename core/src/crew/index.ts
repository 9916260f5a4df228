/** Threads that share work, and the one that works alone. */
export * from './work.ts';
export * from './alone.ts';
export * from './hands.ts';
export * from './slices.ts';
