/** The ID index: from pixels-to-IDs to IDs-to-pixels. */
export * from './id-index.ts';
export * from './stored.ts';
export * from './members-within.ts';
export * from './mean-under.ts';
export * from './middles.ts';
