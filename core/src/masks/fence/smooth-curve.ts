import { coverDrawn, dragDrawn, drawnHandles, pixelsOf, SQUARE, type Drawn } from './closed-line.ts';
import { defineFence } from './fence-kind.ts';
import type { Point } from './point.ts';
import { SOFT } from './settings.ts';

/** Straight pieces from one point to the next. */
const PIECES = 12;

/** A closed curve through all points: uniform Catmull-Rom splines (Catmull and Rom 1974). */
export function curveThrough(points: readonly Point[]): Point[] {
  const n = points.length;
  if (n < 3) return [...points];
  return points.flatMap((_, i) => {
    const [a, b, c, d] = [-1, 0, 1, 2].map((k) => points[(i + k + n) % n]!) as [Point, Point, Point, Point];
    return Array.from({ length: PIECES }, (_unused, k): Point => {
      const t = k / PIECES;
      const at = (j: 0 | 1) =>
        0.5 *
        (2 * b[j] +
          (c[j] - a[j]) * t +
          (2 * a[j] - 5 * b[j] + 4 * c[j] - d[j]) * t * t +
          (3 * b[j] - a[j] - 3 * c[j] + d[j]) * t * t * t);
      return [at(0), at(1)];
    });
  });
}

/** A closed smooth line through its points. */
export const smoothCurve = defineFence<{ [k in keyof Drawn]: Drawn[k] }>({
  kind: 'smooth-curve',
  label: 'Smooth curve',
  hint: 'A limit that swings from point to point.',
  fields: [{ kind: 'points', key: 'points', label: 'Points', most: 200, neutral: SQUARE }, SOFT],
  rasterise: (v, frame, area, out) =>
    coverDrawn(frame, curveThrough(pixelsOf(frame, v.points)), v, area, out),
  outline: (v, frame) => {
    const line = curveThrough(pixelsOf(frame, v.points));
    return line.length ? [[...line, line[0]!]] : [];
  },
  handles: (v, frame) => drawnHandles(frame, v),
  drag: (v, frame, handle, to) => dragDrawn(frame, v, handle, to),
});
