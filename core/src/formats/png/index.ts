/** PNG pictures and masks. */
export * from './write.ts';
