/** What leaves the house: parcels, their kinds, and how their files are called. */
export * from './parcel.ts';
export * from './kind.ts';
export * from './registry.ts';
export * from './schema.ts';
export * from './parse.ts';
export * from './upgrade.ts';
export * from './naming.ts';
export * from './job.ts';
export type { Revised } from './revisions.ts';
export { chosenNames } from './coverage.ts';
export * from './lists.ts';
export * from './manifest.ts';
export * from './lacking.ts';
