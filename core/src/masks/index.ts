/** Masks: coverage of chosen members. */
export * from './layer-mask.ts';
export * from './change-mask.ts';
export * from './contour.ts';
