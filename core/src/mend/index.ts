/** Mending: new files in which a fault is put right. */
export * from './mend.ts';
export * from './registry.ts';
export * from './mend-file.ts';
