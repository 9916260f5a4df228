/** What leaves the house: corrected pictures and masks. */
export * from './corrected-channels.ts';
export * from './mask-file.ts';
