/** Inclusive pixel bounds, y downwards, as in the file. */
export interface Box2i {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

export const boxWidth = (b: Box2i): number => b.xMax - b.xMin + 1;

export const boxHeight = (b: Box2i): number => b.yMax - b.yMin + 1;
