/**
 * The core of Zesty Crow: bytes and typed arrays in, bytes and typed arrays out. It knows no interface, no
 * server, no database and no file system.
 */
export * from './planes/index.ts';
export * from './crew/index.ts';
export * from './findings/index.ts';
export * from './fields/index.ts';
export * from './formats/index.ts';
export * from './formats/exr/index.ts';
export * from './formats/png/index.ts';
export * from './colour/index.ts';
export * from './idlayers/index.ts';
export * from './idindex/index.ts';
export * from './cast/index.ts';
export * from './mixtures/index.ts';
export * from './roles/index.ts';
export * from './picks/index.ts';
export * from './display/index.ts';
export * from './masks/index.ts';
export * from './corrections/index.ts';
export * from './changes/index.ts';
export * from './apply/index.ts';
export * from './relink/index.ts';
export * from './scopes/index.ts';
export * from './version/index.ts';
export * from './inspect/index.ts';
export * from './mend/index.ts';
export * from './exports/index.ts';
export * from './parcels/index.ts';
export * from './scene/index.ts';
export * from './render/index.ts';
export * from './roster/index.ts';
export * from './passes/index.ts';
export * from './plan/index.ts';
