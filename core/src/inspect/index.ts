/** Inspection: what a file is, what is in it, and what is wrong with it. */
export * from './inspect.ts';
export * from './version-check.ts';
export * from './version-registry.ts';
export * from './wall.ts';
export * from './ranks-needed.ts';
export * from './compare.ts';
