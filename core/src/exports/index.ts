/** What leaves the house: corrected pictures and masks. */
export * from './corrected-channels.ts';
export type { ExportKind } from './export-kind.ts';
export * from './mask-file.ts';
export * from './registry.ts';
