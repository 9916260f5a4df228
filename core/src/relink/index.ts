/** Finding the members of changes again in another version or shot. */
export * from './facts.ts';
export * from './likeness.ts';
export * from './report.ts';
export * from './rename.ts';
