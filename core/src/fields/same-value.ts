import equal from 'fast-deep-equal/es6/index.js';

/**
 * True if two values that could be written as JSON, or arrays of numbers, are the same. What is kept as it was is known at
 * once by its identity, so that of a long list only what was edited is looked at.
 */
export const sameValue = (a: unknown, b: unknown): boolean => equal(a, b);
