/** A version's files: which make a frame, which manifest belongs to which, opened. */
export * from './beauty.ts';
export * from './layer-kinds.ts';
export type { ChannelStats } from './channel-stats.ts';
export { maskOfPlanes } from './derived.ts';
export * from './interpretation.ts';
export type { GivenRole } from './given-roles.ts';
export * from './parse-interpretation.ts';
export * from './passes.ts';
export * from './frame-files.ts';
export * from './group-files.ts';
export * from './frame.ts';
export * from './merge.ts';
export * from './open-frame.ts';
export * from './open-picture.ts';
export * from './sidecars.ts';
export * from './version-error.ts';
export * from './works.ts';
