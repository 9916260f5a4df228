/** From scene-linear pictures to the screen: for looking only, never applied to data. */
export * from './view.ts';
export * from './pass-picture.ts';
export * from './id-colours.ts';
export * from './member-picture.ts';
