/** The change list applied to a picture. */
export * from './change-stack.ts';
export * from './compute-tiles.ts';
export * from './stack-input.ts';
export * from './swatches.ts';
export * from './colours-along.ts';
export * from './apply-changes.ts';
export * from './missing-picks.ts';
export * from './picture-tile.ts';
export * from './recipe.ts';
export * from './mask-of-change.ts';
export * from './small-picture.ts';
