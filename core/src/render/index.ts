/** The renderer: a small path tracer that gathers ID coverage from the very samples of the beauty. */
export * from './settings.ts';
export * from './pixel-filter.ts';
export * from './bvh.ts';
export * from './tracer.ts';
export * from './tile.ts';
export * from './film.ts';
