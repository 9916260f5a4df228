import { eachCovered, type Covered } from '../planes/each-covered.ts';
import { growEdge } from './edge.ts';

const { max, min } = Math;

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

/** Pixels around each pixel that moving an edge reads. */
export const reachOf = (radius: number) => Math.ceil(Math.abs(radius)) + 1;

/**
 * Each pixel takes the largest coverage within the radius, or the smallest within a negative one, read between pixels,
 * and no more than any pixel around has; written is the area of the window.
 */
export function moveEdge({ area, margin, coverage }: Covered, radius: number, out: Float32Array): void {
  const width = area.x1 - area.x0 + 2 * margin;
  const by = reachOf(radius);
  growEdge(coverage, { width, margin }, offsetsOf(Math.abs(radius)), by, radius < 0 ? -1 : 1, out);
}

/** The same in plain code, which the kernel is held against. */
export function moveEdgePlain(input: Covered, radius: number, out: Float32Array): void {
  const { area, margin, coverage } = input;
  const width = area.x1 - area.x0 + 2 * margin;
  const sign = radius < 0 ? -1 : 1;
  const by = reachOf(radius);
  const offsets = offsetsOf(Math.abs(radius));
  eachCovered(input, (own, to, from) => {
    let best = sign * own;
    let limit = best;
    for (let y = -by; y <= by; y++)
      for (let x = -by; x <= by; x++) limit = max(limit, sign * coverage[from + y * width + x]!);
    for (const { x, y, weights } of offsets) {
      const p = from + y * width + x;
      const c =
        coverage[p]! * weights[0] +
        coverage[p + 1]! * weights[1] +
        coverage[p + width]! * weights[2] +
        coverage[p + width + 1]! * weights[3];
      best = max(best, sign * c);
    }
    out[to] = sign * min(best, limit);
  });
}
