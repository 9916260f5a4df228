/** Roles: ID passes that carry no names of their own, what makes members of them, and what writes members so. */
export * from './role.ts';
export * from './registry.ts';
export * from './write/rewrite.ts';
export * from './write/registry.ts';
export * from './write/ranks.ts';
export { asFlatColour } from './write/flat-colour.ts';
export { asNumberPass } from './write/number-pass.ts';
export * from './write/slim.ts';
