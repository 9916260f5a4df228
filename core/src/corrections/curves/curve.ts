import type { PointsValue } from '../../fields/field.ts';

/** A value for every place from 0 to 1. */
export type Curve = (x: number) => number;

/**
 * A smooth line through points: cubic pieces whose slopes are held so that the line overshoots no point and turns at
 * none but those that are highest or lowest (Fritsch and Carlson, "Monotone Piecewise Cubic Interpolation", 1980).
 * Beyond its ends it goes on level; a periodic one goes round from 1 to 0. Without points it is 0 everywhere.
 */
export function curveOf(points: PointsValue, periodic: boolean): Curve {
  const own = [...points].sort((a, b) => a[0] - b[0]).filter(([x], i, all) => x !== all[i - 1]?.[0]);
  if (own.length === 0) return () => 0;
  // Two more on either side make it smooth where it goes round.
  const wrapped = [
    ...own.map(([x, y]) => [x - 1, y] as const),
    ...own,
    ...own.map(([x, y]) => [x + 1, y] as const),
  ];
  const all = periodic ? wrapped : own;
  const slopes = slopesOf(all);
  return (x) => {
    const first = all[0]!;
    const last = all[all.length - 1]!;
    if (!(x > first[0])) return first[1];
    if (x >= last[0]) return last[1];
    let i = 0;
    while (all[i + 1]![0] < x) i++;
    const [[x0, y0], [x1, y1]] = [all[i]!, all[i + 1]!];
    const h = x1 - x0;
    const t = (x - x0) / h;
    const [t2, t3] = [t * t, t * t * t];
    return (
      y0 * (2 * t3 - 3 * t2 + 1) +
      slopes[i]! * h * (t3 - 2 * t2 + t) +
      y1 * (3 * t2 - 2 * t3) +
      slopes[i + 1]! * h * (t3 - t2)
    );
  };
}

function slopesOf(points: PointsValue): number[] {
  const n = points.length;
  const rise = (i: number) => (points[i + 1]![1] - points[i]![1]) / (points[i + 1]![0] - points[i]![0]);
  const slopes = points.map((_, i) => {
    if (i === 0 || i === n - 1) return 0;
    const [a, b] = [rise(i - 1), rise(i)];
    return a * b <= 0 ? 0 : (a + b) / 2;
  });
  for (let i = 0; i < n - 1; i++) {
    const d = rise(i);
    const [a, b] = [slopes[i]! / d, slopes[i + 1]! / d];
    const far = a * a + b * b;
    // Level, or so nearly that its neighbours' slopes are beyond all measure of it.
    if (d === 0 || !Number.isFinite(far)) {
      slopes[i] = slopes[i + 1] = 0;
      continue;
    }
    if (far <= 9) continue;
    slopes[i] = (3 / Math.sqrt(far)) * a * d;
    slopes[i + 1] = (3 / Math.sqrt(far)) * b * d;
  }
  return slopes;
}

const STEPS = 1024;
const { max, min } = Math;

/** Tables last as long as the points that they are of: many tiles are corrected with the same. */
const tables = [new WeakMap<PointsValue, Curve>(), new WeakMap<PointsValue, Curve>()] as const;

/** The same as a table, for many values; between its entries in proportion. Points are not to be changed afterwards. */
export function tableOf(points: PointsValue, periodic: boolean): Curve {
  const kept = tables[periodic ? 1 : 0];
  const made = kept.get(points) ?? makeTable(points, periodic);
  kept.set(points, made);
  return made;
}

function makeTable(points: PointsValue, periodic: boolean): Curve {
  const curve = curveOf(points, periodic);
  const table = Float64Array.from({ length: STEPS + 2 }, (_, i) => curve(min(1, i / STEPS)));
  return (x) => {
    const at = min(1, max(0, x)) * STEPS;
    const i = at | 0;
    return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
  };
}
