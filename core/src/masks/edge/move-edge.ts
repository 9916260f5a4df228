import type { MaskWindow } from './edge-step.ts';
import { eachCovered } from './window.ts';

/** Directions on the innermost rings. */
const DIRECTIONS = 24;

interface Offset {
  x: number;
  y: number;
  /** Weights of the four pixels around the place, from the upper left. */
  weights: readonly [number, number, number, number];
}

/** Places on rings at the radius and at every whole one below, so that a larger radius takes in a smaller one's. */
function offsetsOf(radius: number): Offset[] {
  const rings = Math.max(1, Math.ceil(radius));
  return Array.from({ length: rings }, (_, i) => (i === 0 ? radius : rings - i)).flatMap((ring) => {
    const count = DIRECTIONS * Math.max(1, Math.ceil(ring / 2));
    return Array.from({ length: count }, (_, k): Offset => {
      const angle = (2 * Math.PI * k) / count;
      const [dx, dy] = [ring * Math.cos(angle), ring * Math.sin(angle)];
      const [x, y] = [Math.floor(dx), Math.floor(dy)];
      const [u, v] = [dx - x, dy - y];
      return { x, y, weights: [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v] };
    });
  });
}

/** The largest (`sign` 1) or smallest (-1) coverage in a square around each pixel of a window. */
function extremes(coverage: Float32Array, width: number, by: number, sign: number): Float32Array {
  const height = coverage.length / width;
  const rows = new Float32Array(coverage.length);
  const out = new Float32Array(coverage.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let best = -Infinity;
      for (let k = Math.max(0, x - by); k <= Math.min(width - 1, x + by); k++)
        best = Math.max(best, sign * coverage[y * width + k]!);
      rows[y * width + x] = best;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let best = -Infinity;
      for (let k = Math.max(0, y - by); k <= Math.min(height - 1, y + by); k++)
        best = Math.max(best, rows[k * width + x]!);
      out[y * width + x] = sign * best;
    }
  return out;
}

/** Pixels around each pixel that moving an edge reads. */
export const reachOf = (radius: number) => Math.ceil(Math.abs(radius)) + 1;

/**
 * Each pixel takes the largest coverage within the radius, or the smallest within a negative one, read between pixels;
 * written is the area of the window.
 */
export function moveEdge(input: MaskWindow, radius: number, out: Float32Array): void {
  const { area, margin, coverage } = input;
  const width = area.x1 - area.x0 + 2 * margin;
  const sign = Math.sign(radius);
  const first = coverage[0]!;
  // Far from any edge there is nothing to move.
  if (coverage.every((c) => c === first)) return void out.fill(first);
  const most = extremes(coverage, width, reachOf(radius), sign);
  const offsets = offsetsOf(Math.abs(radius));
  eachCovered(input, (own, to, from) => {
    let best = own;
    const limit = most[from]!;
    if (best !== limit)
      for (const { x, y, weights } of offsets) {
        const p = from + y * width + x;
        const c =
          coverage[p]! * weights[0] +
          coverage[p + 1]! * weights[1] +
          coverage[p + width]! * weights[2] +
          coverage[p + width + 1]! * weights[3];
        if (sign * c <= sign * best) continue;
        best = c;
        if (best === limit) break;
      }
    out[to] = best;
  });
}
