import type { IdIndex } from '../../idindex/id-index.ts';
import { TILE, TILE_PIXELS } from '../../planes/tiles.ts';
import { seenTogether } from './seen-together.ts';
import type { SlotShares } from './slot-shares.ts';

const { abs, floor, max, min } = Math;

/** One ID layer with what the picks say of its members. */
export interface LayerShares {
  index: IdIndex;
  shares: SlotShares;
}

/** Members of one layer that a pixel may show; more are not looked at. */
const MOST = 12;
/** Combinations of members of all layers that are weighed in a pixel. */
const MOST_CELLS = 4096;
/** Coverage that no ID has, less than this is rounding. */
const REST = 0.002;
/** Rounds of fitting, and how exact it has to be. */
const ROUNDS = 60;
const EXACT = 1e-4;

/** The members of one layer in the pixels of a tile. */
class Shown {
  readonly count = new Uint8Array(TILE_PIXELS);
  readonly slot = new Uint32Array(MOST * TILE_PIXELS);
  readonly coverage = new Float32Array(MOST * TILE_PIXELS);

  constructor(private readonly index: IdIndex) {}

  fill(x0: number, y0: number): void {
    const { width, height, rowStart, slot, pixel, length, coverage } = this.index;
    this.count.fill(0);
    for (let y = y0; y < min(height, y0 + TILE); y++) {
      const [from, to] = [y * width + x0, y * width + min(width, x0 + TILE)];
      const line = (y - y0) * TILE - from;
      for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
        for (let p = max(from, pixel[i]!), last = min(to, pixel[i]! + length[i]!); p < last; p++) {
          const at = line + p;
          const n = this.count[at]!;
          if (n === MOST) continue;
          this.slot[MOST * at + n] = slot[i]!;
          this.coverage[MOST * at + n] = coverage[i]!;
          this.count[at] = n + 1;
        }
      }
    }
    this.addRest();
  }

  /** What no ID has is a member, too, so that each pixel's coverages are 1. */
  private addRest(): void {
    const none = this.index.ids.length;
    for (let at = 0; at < TILE_PIXELS; at++) {
      const n = this.count[at]!;
      let rest = 1;
      for (let k = 0; k < n; k++) rest -= this.coverage[MOST * at + k]!;
      if (rest < REST || n === MOST) continue;
      this.slot[MOST * at + n] = none;
      this.coverage[MOST * at + n] = rest;
      this.count[at] = n + 1;
    }
  }
}

/**
 * How much of a pixel picks of several ID layers take together. No file stores which part of a pixel two IDs share: where
 * all but one of the layers show there nothing but members of which the picks say the same, the answer is exact anyway.
 * Elsewhere the shares of all combinations are found that agree with what every layer says of the pixel, and that are
 * nearest to how the members are seen together in the rest of the picture, where that is certain
 * ({@link SeenTogether}): iterative proportional fitting (Deming and Stephan 1940). A lid whose brass is seen in the
 * middle is brass at its edge, too, and the jar behind it is not.
 *
 * In each combination a pixel has the largest share that any `with` gives, less what any `without` takes, and no more
 * than every limit lets through.
 */
export class ShownTogether {
  private readonly shown: Shown[];
  private readonly cells = new Float64Array(MOST_CELLS);

  constructor(private readonly layers: readonly LayerShares[]) {
    this.shown = layers.map(({ index }) => new Shown(index));
  }

  /** Writes one tile of the mask; pixels outside the picture are 0. Returns whether there is anything in it. */
  fill(tile: number, out: Float32Array): boolean {
    const { width, height, tilesX } = this.layers[0]!.index;
    const [x0, y0] = [(tile % tilesX) * TILE, floor(tile / tilesX) * TILE];
    for (const s of this.shown) s.fill(x0, y0);
    let any = false;
    for (let y = y0; y < min(height, y0 + TILE); y++)
      for (let x = x0; x < min(width, x0 + TILE); x++) {
        const at = (y - y0) * TILE + x - x0;
        const share = this.pixel(at);
        out[at] = share;
        if (share > 0) any = true;
      }
    return any;
  }

  private pixel(at: number): number {
    const { layers, shown } = this;
    let [plus, minus, within] = [0, 0, 1];
    /** Layers whose members in this pixel differ in what is said of them. */
    const open: number[] = [];
    let own = -1;
    for (let l = 0; l < layers.length; l++) {
      if (!this.alike(l, at)) {
        open.push(l);
        continue;
      }
      const slot = shown[l]!.slot[MOST * at]!;
      const s = layers[l]!.shares;
      if (s.plus[slot]! > plus) {
        plus = s.plus[slot]!;
        own = l;
      }
      minus = max(minus, s.minus[slot]!);
      within = min(within, s.within[slot]!);
    }
    if (within === 0 || minus === 1) return 0;
    const rest = { plus, minus, within };
    if (open.length > 1) return min(1, this.fitted(open, at, rest));
    // With nothing left open the coverage of the layer that puts it in is the pixel's.
    const l = open[0] ?? own;
    if (l < 0) return 0;
    const { count, slot, coverage } = shown[l]!;
    let sum = 0;
    for (let i = MOST * at, end = i + count[at]!; i < end; i++)
      sum += coverage[i]! * this.value([l], [slot[i]!], rest);
    return min(1, sum);
  }

  private alike(l: number, at: number): boolean {
    const { count, slot } = this.shown[l]!;
    const { plus, minus, within } = this.layers[l]!.shares;
    const first = slot[MOST * at]!;
    for (let i = MOST * at + 1, end = MOST * at + count[at]!; i < end; i++) {
      const s = slot[i]!;
      if (plus[s] !== plus[first] || minus[s] !== minus[first] || within[s] !== within[first]) return false;
    }
    return true;
  }

  /** What a combination of members counts. */
  private value(
    open: readonly number[],
    slots: readonly number[],
    { plus, minus, within }: { plus: number; minus: number; within: number },
  ): number {
    for (let k = 0; k < open.length; k++) {
      const s = this.layers[open[k]!]!.shares;
      const slot = slots[k]!;
      plus = max(plus, s.plus[slot]!);
      minus = max(minus, s.minus[slot]!);
      within = min(within, s.within[slot]!);
    }
    return plus * (1 - minus) * within;
  }

  private fitted(
    open: readonly number[],
    at: number,
    rest: { plus: number; minus: number; within: number },
  ): number {
    const { cells } = this;
    const most = max(2, floor(MOST_CELLS ** (1 / open.length)));
    const parts = open.map((l) => this.parts(l, at, most));
    const total = parts.reduce((n, p) => n * p.slots.length, 1);
    const strides = parts.map((_, k) => parts.slice(k + 1).reduce((n, p) => n * p.slots.length, 1));
    const part = (cell: number, k: number) => floor(cell / strides[k]!) % parts[k]!.slots.length;
    cells.fill(1, 0, total);
    for (let k = 0; k < open.length; k++)
      for (let j = k + 1; j < open.length; j++) {
        const seen = seenTogether(this.layers[open[k]!]!.index, this.layers[open[j]!]!.index);
        for (let cell = 0; cell < total; cell++)
          cells[cell]! *= seen.weight(parts[k]!.slots[part(cell, k)]!, parts[j]!.slots[part(cell, j)]!);
      }
    for (let round = 0, off = 1; round < ROUNDS && off > EXACT; round++) {
      off = 0;
      for (let k = 0; k < open.length; k++) {
        const sums = new Float64Array(parts[k]!.slots.length);
        for (let cell = 0; cell < total; cell++) sums[part(cell, k)]! += cells[cell]!;
        const { shares } = parts[k]!;
        for (let i = 0; i < sums.length; i++) off = max(off, abs(sums[i]! - shares[i]!));
        for (let cell = 0; cell < total; cell++) {
          const i = part(cell, k);
          cells[cell]! *= sums[i]! > 0 ? shares[i]! / sums[i]! : 0;
        }
      }
    }
    let sum = 0;
    for (let cell = 0; cell < total; cell++)
      sum +=
        cells[cell]! *
        this.value(
          open,
          parts.map((p, k) => p.slots[part(cell, k)]!),
          rest,
        );
    return sum;
  }

  /** Members of a layer in a pixel, the largest first, whose shares sum to 1. */
  private parts(l: number, at: number, most: number): { slots: number[]; shares: number[] } {
    const { count, slot, coverage } = this.shown[l]!;
    const found = Array.from({ length: count[at]! }, (_, k) => MOST * at + k)
      .sort((a, b) => coverage[b]! - coverage[a]!)
      .slice(0, most);
    const sum = found.reduce((n, i) => n + coverage[i]!, 0);
    return { slots: found.map((i) => slot[i]!), shares: found.map((i) => coverage[i]! / sum) };
  }
}
