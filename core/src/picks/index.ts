/** Picks: who a change concerns, by name or by rule. */
export * from './member-pick.ts';
export * from './patterns.ts';
export * from './resolve.ts';
export * from './put.ts';
export * from './like-names.ts';
export * from './rearrange.ts';
export * from './describe-picks.ts';
