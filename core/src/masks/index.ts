/** Masks: coverage of chosen members, its edge refined, limited by a fence. */
export * from './pipeline.ts';
export * from './tile-mask.ts';
export * from './contour.ts';
export { maskOfMember, maskOfMembers } from './who/member-mask.ts';
export { leavesAll, type EdgeStep, type EdgeUse } from './edge/edge-step.ts';
export { EDGE_STEPS, edgeStepOf } from './edge/registry.ts';
export type { Stroke } from './brush/stroke.ts';
export * from './fence/fence-kind.ts';
export * from './fence/point.ts';
export * from './fence/registry.ts';
export * from './fence/settings.ts';
export * from './fence/follow.ts';
export * from './steady.ts';
