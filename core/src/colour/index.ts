/** Colour spaces and transfer functions, each with the source of its formulae. */
export * from './srgb.ts';
export * from './oklab.ts';
