import type { PointsValue } from '@zesty-crow/core/fields';

/**
 * Corners of the smallest upright rectangle around an outline, from the upper left on clockwise, in percent of the frame.
 * @param outline x, y, x, y … in pixels
 */
export function boundsOf(
  outline: Float32Array,
  { width, height }: { width: number; height: number },
): PointsValue | undefined {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i + 1 < outline.length; i += 2) {
    [x0, x1] = [Math.min(x0, outline[i]!), Math.max(x1, outline[i]!)];
    [y0, y1] = [Math.min(y0, outline[i + 1]!), Math.max(y1, outline[i + 1]!)];
  }
  if (!(x1 > x0 && y1 > y0)) return undefined;
  const [l, t, r, b] = [(100 * x0) / width, (100 * y0) / height, (100 * x1) / width, (100 * y1) / height];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ];
}
