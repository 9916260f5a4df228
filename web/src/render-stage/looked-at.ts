import type { Area, Size } from '@zesty-crow/core/planes';

/** Share of the picture's width and height that a click is about. */
const AROUND = 0.25;
/** One looks at a part of the picture where less than so much of it is in sight. */
const PART = 0.7;

const inside = (v: number, most: number) => Math.round(Math.min(most, Math.max(0, v)));

/** The part of a picture that a click at a place is about, in pixels; undefined beside the picture. */
export function areaAround(x: number, y: number, { width, height }: Size): Area | undefined {
  if (x < 0 || y < 0 || x >= width || y >= height) return undefined;
  const [dx, dy] = [(AROUND * width) / 2, (AROUND * height) / 2];
  return {
    x0: inside(x - dx, width),
    y0: inside(y - dy, height),
    x1: inside(x + dx, width),
    y1: inside(y + dy, height),
  };
}

/** Whether what is in sight is only a part of the picture. */
export const isPart = ({ x0, y0, x1, y1 }: Area, { width, height }: Size): boolean =>
  x1 > x0 && y1 > y0 && (x1 - x0) * (y1 - y0) < PART * width * height;

/** In whole pixels of the picture. */
export const wholeArea = ({ x0, y0, x1, y1 }: Area): Area => ({
  x0: Math.max(0, Math.floor(x0)),
  y0: Math.max(0, Math.floor(y0)),
  x1: Math.ceil(x1),
  y1: Math.ceil(y1),
});
