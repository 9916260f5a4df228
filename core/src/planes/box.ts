import type { Area } from './area.ts';

/** Inclusive pixel bounds, y downwards, as in the file. */
export interface Box2i {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

export const boxWidth = (b: Box2i): number => b.xMax - b.xMin + 1;

/** A box in the pixels of another one. */
export const boxIn = (b: Box2i, { xMin, yMin }: Box2i): Area => ({
  x0: b.xMin - xMin,
  y0: b.yMin - yMin,
  x1: b.xMax - xMin + 1,
  y1: b.yMax - yMin + 1,
});

export const boxHeight = (b: Box2i): number => b.yMax - b.yMin + 1;
