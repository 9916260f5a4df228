import type { MaskWindow } from './edge-step.ts';

/** Coverage is looked at in so many steps. */
const STEPS = 16;

/** Pixels more on every side that finding islands of a size takes. */
export const reachOfIslands = (size: number): number => Math.ceil(size) + 1;

/**
 * Levels small islands of low coverage: at each of some heights, pixels below it that hang together, by sides or
 * corners, and are no longer than `size` pixels in either direction are filled up to that height. What is larger is left
 * as it is to the last pixel, and so is every edge.
 * @param coverage of the window, row-major; written
 */
export function fillIslands(coverage: Float32Array, width: number, size: number): void {
  const height = coverage.length / width;
  const below = new Uint8Array(coverage.length);
  const queue = new Int32Array(coverage.length);
  const source = coverage.slice();
  for (let step = 1; step <= STEPS; step++) {
    const level = step / STEPS;
    for (let p = 0; p < source.length; p++) below[p] = source[p]! < level ? 1 : 0;
    for (let p = 0; p < source.length; p++) {
      if (!below[p]) continue;
      const count = islandAt(p, below, width, height, queue, size);
      for (let i = 0; i < count; i++) {
        const q = queue[i]!;
        if (coverage[q]! < level) coverage[q] = level;
      }
    }
  }
}

/** Pixels of an island, in `queue`; 0 if it is too large, or goes on beyond the window. They are marked as seen. */
function islandAt(
  first: number,
  below: Uint8Array,
  width: number,
  height: number,
  queue: Int32Array,
  size: number,
): number {
  let [x0, x1, y0, y1] = [width, -1, height, -1];
  let count = 1;
  queue[0] = first;
  below[first] = 0;
  for (let i = 0; i < count; i++) {
    const p = queue[i]!;
    const y = Math.floor(p / width);
    const x = p - y * width;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    for (let v = y > 0 ? y - 1 : y; v <= y + 1 && v < height; v++)
      for (let u = x > 0 ? x - 1 : x; u <= x + 1 && u < width; u++) {
        const q = v * width + u;
        if (!below[q]) continue;
        below[q] = 0;
        queue[count++] = q;
      }
  }
  const open = x0 === 0 || y0 === 0 || x1 === width - 1 || y1 === height - 1;
  return open || x1 - x0 + 1 > size || y1 - y0 + 1 > size ? 0 : count;
}

/** The area of a window with its small islands of low coverage filled; of high coverage if it is turned round. */
export function withoutIslands(
  { area, margin, coverage }: MaskWindow,
  size: number,
  turned: boolean,
  out: Float32Array,
): void {
  const width = area.x1 - area.x0 + 2 * margin;
  const own = turned ? coverage.map((c) => 1 - c) : coverage.slice();
  fillIslands(own, width, size);
  const across = area.x1 - area.x0;
  for (let i = 0; i < out.length; i++) {
    const at = (margin + Math.floor(i / across)) * width + margin + (i % across);
    const was = coverage[at]!;
    // What was not touched stays, bit for bit.
    if (turned) out[i] = own[at] === Math.fround(1 - was) ? was : 1 - own[at]!;
    else out[i] = own[at]!;
  }
}

/** The setting of both steps. */
export const SIZE = {
  kind: 'number',
  key: 'size',
  label: 'Up to',
  unit: 'px',
  min: 0,
  max: 40,
  softMax: 12,
  step: 1,
  neutral: 0,
  initial: 3,
} as const;
