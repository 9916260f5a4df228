import type { Crew } from '../crew/work.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import type { RunsOfRows } from '../kernels/ids.ts';
import { tilesAcross, TILE } from '../planes/tiles.ts';
import { BAND, rowsOfBand, runsOfBands } from './band.ts';
import { runsOfRows } from '../kernels/ids.ts';

/**
 * All that an ID layer says of a frame, as runs: pixels side by side in a row that have the same ID and coverage. They
 * come in the order of the picture, so that what lies at a pixel is found by its row; and by member, so that a mask
 * costs what its members cover, not the frame. The layer's own channels are not needed any more.
 *
 * What no ID covers is a member like the others, with ID 0.
 */
export interface IdIndex {
  width: number;
  height: number;
  /** IDs that occur, in order of first appearance; the position is the member's slot. */
  ids: Uint32Array;
  slotOf: ReadonlyMap<number, number>;
  /** Number of runs above each row, and of all; in a row they come rank by rank. */
  rowStart: Uint32Array;
  /** Of each run: slot, first pixel (y * width + x), pixels, coverage above 0. */
  slot: Uint32Array;
  pixel: Uint32Array;
  length: Uint32Array;
  coverage: Float32Array;
  /** Of each slot: distinct pixels, and sum of coverage over them. */
  pixelsOf: Uint32Array;
  coverageOf: Float64Array;
  tilesX: number;
  tilesY: number;
  /** For each slot a bit set of the tiles it touches, `tileWords` 32-bit words a slot. */
  tiles: Uint32Array;
  tileWords: number;
  /** Pixels whose coverages sum to more than 1, and those whose coverages are not numbers. */
  over: number;
  broken: number;
}

/** What is kept of an index; the rest follows from it. */
export type IdIndexRuns = Omit<IdIndex, 'slotOf' | 'tilesX' | 'tilesY' | 'tiles' | 'tileWords'>;

/** Looks members and tiles up in the runs. */
export function indexOfRuns(runs: IdIndexRuns): IdIndex {
  const { width, height, ids, slot, pixel, length, rowStart } = runs;
  const tilesX = tilesAcross(width);
  const tilesY = tilesAcross(height);
  const tileWords = Math.ceil((tilesX * tilesY) / 32);
  const tiles = new Uint32Array(ids.length * tileWords);
  for (let y = 0; y < height; y++) {
    const tileRow = Math.floor(y / TILE) * tilesX;
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
      const x = pixel[i]! - y * width;
      const base = slot[i]! * tileWords;
      for (let t = tileRow + (x >> 6), last = tileRow + ((x + length[i]! - 1) >> 6); t <= last; t++)
        tiles[base + (t >>> 5)]! |= 1 << (t & 31);
    }
  }
  return {
    ...runs,
    slotOf: new Map(Array.from(ids, (id, s) => [id, s])),
    tilesX,
    tilesY,
    tiles,
    tileWords,
  };
}

/** Puts the bands of a frame together, {@link BAND} rows each; each has numbered its members by itself. */
export function joinBands(width: number, height: number, bands: readonly RunsOfRows[]): IdIndex {
  const slots = new Map<number, number>();
  const total = bands.reduce((sum, b) => sum + b.slot.length, 0);
  const runs = {
    rowStart: new Uint32Array(height + 1),
    slot: new Uint32Array(total),
    pixel: new Uint32Array(total),
    length: new Uint32Array(total),
    coverage: new Float32Array(total),
  };
  const pixelsOf: number[] = [];
  const coverageOf: number[] = [];
  let at = 0;
  bands.forEach((band, b) => {
    const own = Uint32Array.from(band.ids, (id, s) => {
      let slot = slots.get(id);
      if (slot === undefined) {
        slots.set(id, (slot = slots.size));
        pixelsOf.push(0);
        coverageOf.push(0);
      }
      pixelsOf[slot]! += band.pixelsOf[s]!;
      coverageOf[slot]! += band.coverageOf[s]!;
      return slot;
    });
    const { slot } = band;
    for (let i = 0; i < slot.length; i++) runs.slot[at + i] = own[slot[i]!]!;
    runs.pixel.set(band.pixel, at);
    runs.length.set(band.length, at);
    runs.coverage.set(band.coverage, at);
    for (let row = 1; row < band.rowStart.length; row++)
      runs.rowStart[b * BAND + row] = at + band.rowStart[row]!;
    at += slot.length;
  });
  return indexOfRuns({
    width,
    height,
    ids: Uint32Array.from(slots.keys()),
    ...runs,
    pixelsOf: Uint32Array.from(pixelsOf),
    coverageOf: Float64Array.from(coverageOf),
    over: bands.reduce((sum, b) => sum + b.over, 0),
    broken: bands.reduce((sum, b) => sum + b.broken, 0),
  });
}

/**
 * Builds the index of one ID layer. Ranks with coverage 0 or less, or not a number, are left out.
 * @param runsOf what turns rows into runs: the kernel, or plain code in its place
 */
export function buildIdIndex(
  planes: RankPlanes,
  runsOf: (planes: RankPlanes, y0: number, y1: number) => RunsOfRows = runsOfRows,
): IdIndex {
  const { width, height } = planes;
  const bands = Array.from({ length: Math.ceil(height / BAND) }, (_, b) =>
    runsOf(planes, ...rowsOfBand(b, height)),
  );
  return joinBands(width, height, bands);
}

/** The same by a crew. */
export async function buildIdIndexBy(crew: Crew, planes: RankPlanes, signal?: AbortSignal): Promise<IdIndex> {
  return joinBands(planes.width, planes.height, await crew.share(runsOfBands, planes, { signal }));
}

/** IDs at a pixel by slot, with their coverage, largest first. Several ranks of one ID are one. */
export function idsAt(index: IdIndex, x: number, y: number): { slot: number; coverage: number }[] {
  const p = y * index.width + x;
  const found: { slot: number; coverage: number }[] = [];
  for (let i = index.rowStart[y]!, end = index.rowStart[y + 1]!; i < end; i++) {
    const from = index.pixel[i]!;
    if (p < from || p >= from + index.length[i]!) continue;
    const slot = index.slot[i]!;
    const again = found.find((f) => f.slot === slot);
    if (again) again.coverage += index.coverage[i]!;
    else found.push({ slot, coverage: index.coverage[i]! });
  }
  return found.sort((a, b) => b.coverage - a.coverage);
}
