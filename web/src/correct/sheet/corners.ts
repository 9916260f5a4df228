import type { PointsValue } from '@zesty-crow/core/fields';
import { toShares, type Area, type Size } from '@zesty-crow/core/planes';

/** Corners of a rectangle of a picture, from the upper left on clockwise, in percent of its display window. */
export function cornersOf({ x0, y0, x1, y1 }: Area, size: Size): PointsValue {
  const [[l, t], [r, b]] = [toShares(size, [x0, y0]), toShares(size, [x1, y1])];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ];
}
