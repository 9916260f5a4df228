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
  const search = new Search(coverage.slice(), width, size);
  for (let step = 1; step <= STEPS; step++)
    for (const island of search.below(step, step / STEPS))
      for (const p of island) if (coverage[p]! < step / STEPS) coverage[p] = step / STEPS;
}

/**
 * Finds islands at rising heights. What belongs to something larger at one height does so at all above it, and what
 * touches that belongs to it: so every pixel is looked at closely only until then, which for most is at once.
 */
class Search {
  /** 1 for pixels that belong to something larger, or to what goes on beyond the window. */
  private readonly large: Uint8Array;
  /** The height at which a pixel was last seen. */
  private readonly seen: Uint8Array;
  private readonly queue: Int32Array;
  /** Pixels that are looked at: in the beginning all. */
  private rest: Int32Array | undefined;

  constructor(
    private readonly source: Float32Array,
    private readonly width: number,
    private readonly size: number,
  ) {
    this.large = new Uint8Array(source.length);
    this.seen = new Uint8Array(source.length);
    this.queue = new Int32Array(source.length);
  }

  /** Small islands below a height; each holds until the next. */
  *below(step: number, level: number): Generator<Int32Array> {
    const { source, large, seen, rest, queue } = this;
    const count = rest?.length ?? source.length;
    let left = 0;
    const next = new Int32Array(count);
    for (let i = 0; i < count; i++) {
      const p = rest ? rest[i]! : i;
      if (source[p]! < level && !large[p] && seen[p] !== step) {
        const found = this.flood(p, step, level);
        if (found > 0) yield queue.subarray(0, found);
      }
      // Full coverage is below no height.
      if (!large[p] && source[p]! < 1) next[left++] = p;
    }
    this.rest = next.subarray(0, left);
  }

  /** Pixels of an island, in `queue`; 0 if it belongs to something larger, which those that were seen then do, too. */
  private flood(first: number, step: number, level: number): number {
    const { source, width, size, large, seen, queue } = this;
    const height = source.length / width;
    let [x0, x1, y0, y1] = [width, -1, height, -1];
    let count = 1;
    queue[0] = first;
    seen[first] = step;
    for (let i = 0; i < count; i++) {
      const p = queue[i]!;
      const y = Math.floor(p / width);
      const x = p - y * width;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
      let whole = x0 > 0 && y0 > 0 && x1 < width - 1 && y1 < height - 1;
      whole &&= x1 - x0 < size && y1 - y0 < size;
      for (let v = y - 1; whole && v <= y + 1; v++)
        for (let q = v * width + x - 1; q <= v * width + x + 1; q++) {
          if (source[q]! >= level) continue;
          if (large[q]) whole = false;
          else if (seen[q] !== step) {
            seen[q] = step;
            queue[count++] = q;
          }
        }
      if (whole) continue;
      for (let k = 0; k < count; k++) large[queue[k]!] = 1;
      return 0;
    }
    return count;
  }
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
