/** The renderer: a path tracer that gathers ID coverage from the very samples of the beauty. */
export * from './gather.ts';
export * from './settings.ts';
export * from './pixel-filter.ts';
export * from './ray-kinds.ts';
export * from './waves/prepared.ts';
export * from './coverage.ts';
export * from './sums.ts';
export * from './tile-sums.ts';
export * from './tile.ts';
export * from './film.ts';
