import type { PointsValue } from '@zesty-crow/core/fields';

type Point = readonly [x: number, y: number];

/** Points are never nearer to each other than this. */
const APART = 0.01;
/** So near a point is meant: a share of the width, and of the height. */
const NEAR = 0.035;

const round = ([x, y]: Point): Point => [Number(x.toFixed(4)), Number(y.toFixed(3))];

/** The number of the point that is meant by a place; undefined if it is none. */
export function nearPoint(points: PointsValue, [x, y]: Point, reach: number): number | undefined {
  const far = points.map(([px, py]) => Math.hypot((px - x) / NEAR, (py - y) / (reach * 4 * NEAR)));
  const best = far.indexOf(Math.min(...far));
  return best >= 0 && far[best]! <= 1 ? best : undefined;
}

/** Around the first point so far away the line is held level. */
const HELD = 0.14;

/** The points with one more, in order, and its number. The first one moves only what is near it. */
export function withPoint(points: PointsValue, place: Point): { points: PointsValue; at: number } {
  if (points.length === 0) {
    const around = [place[0] - HELD, place[0] + HELD]
      .filter((x) => x >= 0 && x <= 1)
      .map((x): Point => round([x, 0]));
    return withPoint(around.length ? around : [[1 - place[0], 0]], place);
  }
  const at = points.filter(([x]) => x < place[0]).length;
  return { points: [...points.slice(0, at), round(place), ...points.slice(at)], at };
}

/** The points with one of them elsewhere: between its neighbours, and within reach. */
export function withMoved(points: PointsValue, at: number, [x, y]: Point, reach: number): PointsValue {
  const low = at > 0 ? points[at - 1]![0] + APART : 0;
  const high = at < points.length - 1 ? points[at + 1]![0] - APART : 1;
  const place: Point = [Math.max(low, Math.min(high, x)), Math.max(-reach, Math.min(reach, y))];
  return points.map((p, i) => (i === at ? round(place) : p));
}

export const withoutPoint = (points: PointsValue, at: number): PointsValue =>
  points.filter((_, i) => i !== at);
