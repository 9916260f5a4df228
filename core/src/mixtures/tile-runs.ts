import type { IdIndex } from '../idindex/id-index.ts';
import type { Allocate } from '../planes/tile-store.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';

/**
 * The runs of an ID layer once more, cut where tiles begin: those of a row in a column of tiles stand together, so that
 * what lies in and around a tile is had without a look at the rest of its rows. Plain data, for other threads.
 */
export interface TileRuns {
  width: number;
  height: number;
  /** First run of each row in each column of tiles, `y * tilesX + column`, and the number of all. */
  start: Uint32Array;
  /** Of each run: slot, first pixel of the row, the one after its last, coverage; rank by rank. */
  slot: Uint32Array;
  first: Uint32Array;
  end: Uint32Array;
  coverage: Float32Array;
}

type Runs = Pick<IdIndex, 'width' | 'height' | 'rowStart' | 'slot' | 'pixel' | 'length' | 'coverage'>;

/** @param allocate memory, where other threads shall see it */
export function tileRuns(index: Runs, allocate: Allocate): TileRuns {
  const { width, height } = index;
  const tilesX = tilesAcross(width);
  const start = new Uint32Array(allocate(4 * (height * tilesX + 1)));
  eachPiece(index, (_, bucket) => start[bucket + 1]!++);
  for (let i = 1; i < start.length; i++) start[i]! += start[i - 1]!;
  const count = start[start.length - 1]!;
  const words = () => new Uint32Array(allocate(4 * count));
  const runs = {
    slot: words(),
    first: words(),
    end: words(),
    coverage: new Float32Array(allocate(4 * count)),
  };
  const next = start.slice(0, -1);
  eachPiece(index, (run, bucket, first, end) => {
    const to = next[bucket]!++;
    runs.slot[to] = index.slot[run]!;
    runs.first[to] = first;
    runs.end[to] = end;
    runs.coverage[to] = index.coverage[run]!;
  });
  return { width, height, start, ...runs };
}

/** Calls `use` for each run with what of it lies in a column of tiles. */
function eachPiece(
  { width, height, rowStart, pixel, length }: Runs,
  use: (run: number, bucket: number, first: number, end: number) => void,
): void {
  const tilesX = tilesAcross(width);
  for (let y = 0; y < height; y++)
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++) {
      const end = pixel[i]! - y * width + length[i]!;
      for (let x = pixel[i]! - y * width; x < end;) {
        const column = Math.floor(x / TILE);
        const stop = Math.min(end, (column + 1) * TILE);
        use(i, y * tilesX + column, x, stop);
        x = stop;
      }
    }
}
