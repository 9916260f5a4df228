/** Looking closely: scopes, warnings and samples of a picture, in its full precision. */
export * from './region.ts';
export * from './registry.ts';
export * from './sample.ts';
export * from './scope.ts';
export * from './warnings.ts';
