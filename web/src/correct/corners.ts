import type { PointsValue } from '@zesty-crow/core/fields';
import type { Area } from '@zesty-crow/core/planes';

/** Corners of a rectangle of a frame, from the upper left on clockwise, in percent of it. */
export function cornersOf(
  { x0, y0, x1, y1 }: Area,
  { width, height }: { width: number; height: number },
): PointsValue {
  const [l, t, r, b] = [(100 * x0) / width, (100 * y0) / height, (100 * x1) / width, (100 * y1) / height];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ];
}
