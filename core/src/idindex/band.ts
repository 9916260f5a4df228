import type { Work } from '../crew/work.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import { runsOfRows, type RunsOfRows } from '../kernels/ids.ts';

/** Coverage that has no ID counts from here on; less is rounding by the writer. */
const LEAST_NOTHING = Math.fround(0.004);
/** Sums of coverage up to this are rounding. */
const MOST_SUM = Math.fround(1.01);
/** Rows that one thread takes at a time. */
export const BAND = 64;

/**
 * Rows of an ID layer as runs, in plain code: the truth that the kernel is held against. A run is pixels of one row and
 * rank that lie side by side and have the same ID and coverage. Runs come row by row, in a row rank by rank, and last
 * what no ID covers, 1 less the sum of coverages, as ID 0. A pixel whose ID stands in two ranks counts once.
 */
export function plainRuns({ width, ids, coverage }: RankPlanes, y0: number, y1: number): RunsOfRows {
  const slots = new Map<number, number>();
  const of = { ids: [] as number[], runs: [] as number[], pixels: [] as number[], coverage: [] as number[] };
  const out = {
    slot: [] as number[],
    pixel: [] as number[],
    length: [] as number[],
    coverage: [] as number[],
  };
  const rowStart = [0];
  let over = 0;
  let broken = 0;
  const add = (id: number, pixel: number, length: number, cover: number, again: number) => {
    let slot = slots.get(id);
    if (slot === undefined) {
      slots.set(id, (slot = of.ids.push(id) - 1));
      of.runs.push(0);
      of.pixels.push(0);
      of.coverage.push(0);
    }
    of.runs[slot]!++;
    of.pixels[slot]! += length - again;
    of.coverage[slot]! += length * cover;
    out.slot.push(slot);
    out.pixel.push(pixel);
    out.length.push(length);
    out.coverage.push(cover);
  };
  const named = new Float32Array(width);
  const all = new Float32Array(width);
  for (let y = y0; y < y1; y++) {
    const row = y * width;
    named.fill(0);
    all.fill(0);
    ids.forEach((plane, rank) => {
      const cover = coverage[rank]!;
      for (let x = 0; x < width; x++) all[x]! += cover[row + x]!;
      for (let x = 0; x < width;) {
        const id = plane[row + x]!;
        const c = cover[row + x]!;
        const from = x++;
        if (!(c > 0)) continue;
        while (x < width && plane[row + x] === id && cover[row + x] === c) x++;
        if (id === 0) continue;
        let again = 0;
        for (let k = from; k < x; k++) {
          named[k]! += c;
          for (let lower = 0; lower < rank; lower++)
            if (ids[lower]![row + k] === id && coverage[lower]![row + k]! > 0) {
              again++;
              break;
            }
        }
        add(id, row + from, x - from, c, again);
      }
    });
    for (let x = 0; x < width;) {
      const left = Math.fround(1 - named[x]!);
      const from = x++;
      if (!(left > LEAST_NOTHING)) continue;
      while (x < width && Math.fround(1 - named[x]!) === left) x++;
      add(0, row + from, x - from, left, 0);
    }
    for (const sum of all) if (!(sum <= MOST_SUM)) Number.isFinite(sum) ? over++ : broken++;
    rowStart.push(out.slot.length);
  }
  return {
    rowStart: Uint32Array.from(rowStart),
    slot: Uint32Array.from(out.slot),
    pixel: Uint32Array.from(out.pixel),
    length: Uint32Array.from(out.length),
    coverage: Float32Array.from(out.coverage),
    ids: Uint32Array.from(of.ids),
    runsOf: Uint32Array.from(of.runs),
    pixelsOf: Uint32Array.from(of.pixels),
    coverageOf: Float64Array.from(of.coverage),
    over,
    broken,
  };
}

/** Rows of a band, clipped to the frame. */
export const rowsOfBand = (band: number, height: number): [number, number] => [
  band * BAND,
  Math.min(height, (band + 1) * BAND),
];

/** Runs of a whole layer as work that threads can share, a band of rows a piece. */
export const runsOfBands: Work<RankPlanes, RunsOfRows> = {
  kind: 'id-runs',
  pieces: ({ height }) => Math.ceil(height / BAND),
  begin: (planes) => (band) => runsOfRows(planes, ...rowsOfBand(band, planes.height)),
};
