import { findMixtures, type Crew } from '@zesty-crow/core';
import type { OpenFrame } from '../open-frame.ts';

/** So long mixed pixels are taken apart before anything else is looked after, in milliseconds, and in how many tiles first. */
const APART_MS = 30;
const FIRST_TILES = 6;

/**
 * Takes mixed pixels under masks apart, some tiles at a time, so that a hand that moves something waits for no more than
 * those; until then edges are mixed plainly.
 */
export class MixedEdges {
  private tilesAtATime = FIRST_TILES;

  constructor(private readonly crew: Crew) {}

  /** True if there are mixed pixels that were not taken apart. */
  due({ stack }: OpenFrame): boolean {
    return stack.mixturesDue().length > 0;
  }

  /** Takes the next tiles apart, by an order; gives those in which something was found. */
  async takeApart(open: OpenFrame, order: (due: Uint8Array) => number[]): Promise<number[]> {
    const due = open.stack.mixturesDue()[0]!;
    const marked = new Uint8Array(open.stack.tileCount);
    for (const t of due.tiles) marked[t] = 1;
    const tiles = Uint32Array.from(order(marked).slice(0, this.tilesAtATime));
    const some = { ...due, tiles };
    const begun = performance.now();
    const found = await this.crew.share(findMixtures, some);
    const each = Math.max(0.1, performance.now() - begun) / tiles.length;
    this.tilesAtATime = Math.min(64, Math.max(1, Math.round(APART_MS / each)));
    for (const tile of open.stack.takeMixtures(some, found)) open.toCompute[tile] = 1;
    return [...tiles].filter((_, i) => found[i]);
  }
}
