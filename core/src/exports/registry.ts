import type { ExportKind } from './export-kind.ts';
import { correctedExr, correctedExrHalf } from './kinds/corrected-exr.ts';
import { correctedPng16, correctedPng8 } from './kinds/corrected-png.ts';
import { maskExr, maskPng } from './kinds/mask.ts';

/** Every kind of export there is, in the order in which the interface offers them. */
export const EXPORTS: readonly ExportKind[] = [
  correctedExr,
  correctedExrHalf,
  correctedPng8,
  correctedPng16,
  maskExr,
  maskPng,
];

export const exportKind = (kind: string): ExportKind | undefined => EXPORTS.find((e) => e.kind === kind);
