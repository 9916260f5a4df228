/** The change list applied to a picture. */
export * from './change-stack.ts';
export * from './apply-changes.ts';
export * from './missing-picks.ts';
