import type { ExrImage } from '@zesty-crow/core';

/** What is measured, and how often. */
export interface BrowserBench {
  /** The picture that is repeated. */
  picture: ExrImage;
  /** How often it is repeated each way: one opening and one drag at each of these. */
  sizes: readonly number[];
  /** The size at which corrections, masks and the wall of variants are measured. */
  detail: number;
  /** Openings after the first. */
  openings: number;
  /** Steps of a drag over six changes, and of a single correction. */
  drag: number;
  steps: number;
  /** So many corrections and edge steps are measured. */
  kinds: number;
  variants: number;
  /** Clicks that put members in and out. */
  clicks: number;
  /** Whether memory is measured: the browser answers that when it likes. */
  memory: boolean;
  /** Milliseconds in which what is done behind the picture comes to its end. */
  rest: number;
  only?: string | undefined;
}
/** At full size, with the demo's table. */
export const FULL: Omit<BrowserBench, 'picture'> = {
  sizes: [1, 2, 4],
  detail: 2,
  openings: 3,
  drag: 100,
  steps: 40,
  kinds: Infinity,
  variants: 24,
  rest: 3000,
  clicks: 24,
  memory: true,
};

/** Pixels across and down. */
export function sizeOf({ header: { dataWindow: w } }: ExrImage): { width: number; height: number } {
  return { width: w.xMax - w.xMin + 1, height: w.yMax - w.yMin + 1 };
}
