/** From scene-linear pictures to the screen: for looking only, never applied to data. */
export * from './view.ts';
export * from './transforms.ts';
export * from './cube.ts';
export * from './show.ts';
export * from './pass-picture.ts';
export * from './id-colours.ts';
export * from './member-picture.ts';
