import type { IdIndex } from '../../idindex/id-index.ts';

/** From this coverage on a pixel shows nothing but one member. */
const PURE = 0.998;
/** Weight, in pixels, of two members that were never seen together: not impossible, but unlikely. */
const UNSEEN = 1e-3;

/**
 * How much of the picture is covered by a member of one layer and a member of another at once, where that is known for
 * certain: in pixels that show one member alone in at least one of the two layers. A lid is brass wherever it is seen
 * alone; so it is at its edge.
 */
export class SeenTogether {
  private readonly pixels = new Map<number, number>();

  constructor(
    private readonly first: IdIndex,
    private readonly second: IdIndex,
  ) {
    const { width, height } = first;
    const [a, b] = [new Int32Array(width), new Int32Array(width)];
    for (let y = 0; y < height; y++) {
      pureOf(first, y, a);
      pureOf(second, y, b);
      this.count(second, y, a, (own, other) => own * second.ids.length + other, undefined);
      // Both alone were counted above.
      this.count(first, y, b, (own, other) => other * second.ids.length + own, a);
    }
  }

  private count(
    of: IdIndex,
    y: number,
    alone: Int32Array,
    key: (own: number, other: number) => number,
    but: Int32Array | undefined,
  ): void {
    const { width, rowStart, slot, pixel, length, coverage } = of;
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
      const from = pixel[i]! - y * width;
      let [last, sum] = [-1, 0];
      for (let x = from, to = from + length[i]!; x <= to; x++) {
        const own = x < to && !(but && but[x]! >= 0) ? alone[x]! : -1;
        if (own !== last) {
          if (last >= 0) this.add(key(last, slot[i]!), sum);
          [last, sum] = [own, 0];
        }
        sum += coverage[i]!;
      }
    }
  }

  private add(key: number, pixels: number): void {
    this.pixels.set(key, (this.pixels.get(key) ?? 0) + pixels);
  }

  /** Pixels covered by both, and a little for those that were never seen together. */
  weight(first: number, second: number): number {
    // What has no ID at all stands for anything.
    if (first >= this.first.ids.length || second >= this.second.ids.length) return 1;
    return (this.pixels.get(first * this.second.ids.length + second) ?? 0) + UNSEEN;
  }
}

/** For each pixel of a row the slot that covers it alone, or -1. */
function pureOf(
  { width, rowStart, slot, pixel, length, coverage }: IdIndex,
  y: number,
  out: Int32Array,
): void {
  out.fill(-1);
  for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
    if (coverage[i]! < PURE) continue;
    const from = pixel[i]! - y * width;
    out.fill(slot[i]!, from, from + length[i]!);
  }
}

const known = new WeakMap<IdIndex, WeakMap<IdIndex, SeenTogether>>();

/** Looked up once for two layers of a frame. */
export function seenTogether(first: IdIndex, second: IdIndex): SeenTogether {
  let others = known.get(first);
  if (!others) known.set(first, (others = new WeakMap()));
  let found = others.get(second);
  if (!found) others.set(second, (found = new SeenTogether(first, second)));
  return found;
}
