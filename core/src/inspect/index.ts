/** Inspection: what a file is, what is in it, and what is wrong with it. */
export * from './inspect.ts';
