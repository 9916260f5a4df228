import { computeTiles, halvingsAt, TILE, TILE_PIXELS, type Crew, type DisplayUse } from '@zesty-crow/core';
import type { Failure, ShownTile, ViewState } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';
import { modeOf } from '../surfaces/list.ts';

/** A computation that has run this long gives way to a newer view; a shorter one is worth ending. */
const PATIENCE = 45;

/** Computes the corrected picture where it is due, and hands tiles over as they are ready. */
export class CorrectedTiles {
  private computing: { abort: AbortController; since: number } | undefined;

  constructor(private readonly crew: Crew) {}

  /** Another view has come. */
  giveWay(): void {
    if (this.computing && performance.now() - this.computing.since > PATIENCE) this.computing.abort.abort();
  }
  /** What is computed is not wanted any more. */
  stop(): void {
    this.computing?.abort.abort();
  }

  /**
   * @param tiles numbers of tiles, in order
   * @param send takes tiles that the large surface shows as they are
   * @returns corrections that could not be computed
   */
  async compute(
    open: OpenFrame,
    view: ViewState,
    display: DisplayUse,
    tiles: readonly number[],
    send: (tiles: ShownTile[]) => void,
    isOpen: () => boolean,
  ): Promise<Failure[]> {
    const ready = new Uint8Array(this.crew.allocate(tiles.length));
    const halvings = halvingsAt(view.scale);
    const input = open.stack.input([...tiles], { bytes: open.bytes, display, halvings, ready });
    const abort = new AbortController();
    this.computing = { abort, since: performance.now() };
    const sent = new Uint8Array(tiles.length);
    const collect = () => {
      const done: number[] = [];
      tiles.forEach((t, i) => {
        if (!ready[i] || sent[i]) return;
        sent[i] = 1;
        open.toCompute[t] = 0;
        done.push(t);
      });
      if (done.length === 0 || !isOpen()) return;
      const surface = open.shown.view;
      open.watched = undefined;
      if (!modeOf(view).corrected) for (const t of done) surface.touch(t);
      else
        send(
          done.map((t): ShownTile => {
            const from = t * 4 * TILE_PIXELS;
            const data = open.bytes.slice(from, from + 4 * (TILE >> halvings) ** 2);
            return {
              tile: t,
              halvings,
              known: surface.send(t, true),
              data: new Uint8ClampedArray(data.buffer),
            };
          }),
        );
    };
    try {
      const told = await this.crew.share(computeTiles, input, { signal: abort.signal, onProgress: collect });
      return told.flat();
    } catch (error) {
      if (!abort.signal.aborted) throw error;
      return [];
    } finally {
      collect();
      this.computing = undefined;
    }
  }
}
