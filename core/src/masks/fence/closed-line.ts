import type { Area } from '../../planes/area.ts';
import type { PointsValue } from '../../fields/field.ts';
import type { Size } from '../../planes/size.ts';
import { lengthIn, toPixels, toShares } from '../../planes/shares.ts';
import { coverBy } from './distance.ts';
import type { Handle } from './fence-kind.ts';
import type { Point } from './point.ts';

const { max, min, sqrt } = Math;

/** Settings of shapes that are drawn point by point. */
export interface Drawn {
  points: PointsValue;
  soft: number;
}

/** Covers the inside of a closed line of straight pieces; where it crosses itself, by the even-odd rule. */
export function coverLine(line: readonly Point[], soft: number, area: Area, out: Float32Array): void {
  if (line.length < 3) return void out.fill(0);
  coverBy(
    (x, y) => {
      let nearest = Infinity;
      let inside = false;
      for (let i = 0, j = line.length - 1; i < line.length; j = i++) {
        const [ax, ay] = line[j]!;
        const [bx, by] = line[i]!;
        const [ex, ey] = [bx - ax, by - ay];
        const [wx, wy] = [x - ax, y - ay];
        const t = min(1, max(0, (wx * ex + wy * ey) / max(1e-12, ex * ex + ey * ey)));
        nearest = min(nearest, (wx - t * ex) ** 2 + (wy - t * ey) ** 2);
        if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * ex) inside = !inside;
      }
      return sqrt(nearest) * (inside ? -1 : 1);
    },
    soft,
    area,
    out,
  );
}

export const pixelsOf = (frame: Size, points: PointsValue): Point[] =>
  points.map(([x, y]) => toPixels(frame, x, y));

export const coverDrawn = (
  frame: Size,
  line: readonly Point[],
  v: Readonly<Drawn>,
  area: Area,
  out: Float32Array,
) => coverLine(line, lengthIn(frame, v.soft), area, out);

/** A handle a point, and one in the middle of them that moves all. */
export function drawnHandles(frame: Size, { points }: Readonly<Drawn>): Handle[] {
  const at = pixelsOf(frame, points);
  if (at.length === 0) return [];
  const mean = [0, 1].map((k) => at.reduce((sum, p) => sum + p[k]!, 0) / at.length) as unknown as Point;
  return [
    { key: 'middle', label: 'Move', at: mean },
    ...at.map((p, i): Handle => ({ key: `point ${i}`, label: `Point ${i + 1}`, at: p })),
  ];
}

export function dragDrawn(frame: Size, v: Readonly<Drawn>, handle: string, to: Point): Partial<Drawn> {
  const [x, y] = toShares(frame, to);
  if (handle === 'middle') {
    const from = drawnHandles(frame, v)[0];
    if (!from) return {};
    const [fx, fy] = toShares(frame, from.at);
    return { points: v.points.map(([px, py]) => [px + x - fx, py + y - fy]) };
  }
  const at = Number(handle.split(' ')[1]);
  return { points: v.points.map((p, i) => (i === at ? [x, y] : p)) };
}

/** Points to begin with. */
export const SQUARE: PointsValue = [
  [40, 35],
  [60, 35],
  [60, 65],
  [40, 65],
];
