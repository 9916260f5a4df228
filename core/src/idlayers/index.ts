/** ID layers: cryptomattes and, later, every other kind of ID pass. */
export * from './murmur3.ts';
export * from './ids.ts';
export * from './manifest.ts';
export * from './rank-planes.ts';
export * from './cryptomatte.ts';
export * from './sidecar.ts';
export * from './load.ts';
export * from './numbered.ts';
