/** Edits of a change list: what each makes of a list, in the words of the history. */
export * from './edited.ts';
export * from './changes.ts';
export * from './headings.ts';
export * from './mask.ts';
export * from './steps.ts';
export * from './values.ts';
export * from './frames.ts';
export * from './comments.ts';
export * from './variants.ts';
export * from './whole.ts';
