/** Corrections of the picture, in scene-linear light, inside masks. */
export * from './correction.ts';
export * from './limit.ts';
export * from './registry.ts';
export * from './shared.ts';
export { curveOf } from './curves/curve.ts';
export { pictureKey } from './placed/picture-planes.ts';
export { lightOfGrey } from './white-balance.ts';
