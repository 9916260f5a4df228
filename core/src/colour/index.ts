/** Colour spaces and transfer functions, each with the source of its formulae. */
export * from './srgb.ts';
export * from './oklab.ts';
export * from './luminance.ts';
export * from './matrix.ts';
export { adaptation, lightOf } from './white.ts';
export * from './primaries.ts';
export * from './within-range.ts';
export * from './lab.ts';
export * from './mean-of-bytes.ts';
export * from './palette.ts';
