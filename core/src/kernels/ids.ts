import { BYTES } from './generated/ids.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  begin(
    table: number,
    mask: number,
    ids: number,
    runsOf: number,
    pixels: number,
    coverage: number,
    out: number,
    most: number,
  ): void;
  row(
    ids: number,
    coverage: number,
    stride: number,
    ranks: number,
    width: number,
    pixel: number,
    named: number,
    all: number,
  ): number;
  anyPresent(p: number, n: number): number;
  slotCount(): number;
  runCount(): number;
  overCount(): number;
  brokenCount(): number;
}

let kernel: Exports | undefined;
const kernelOfIds = (): Exports => (kernel ??= loadKernel<Exports>(BYTES));

/** Rows of an ID layer as runs; see `idindex/band.ts`. */
export interface RunsOfRows {
  /** Number of runs up to each row, and to the end. */
  rowStart: Uint32Array;
  slot: Uint32Array;
  pixel: Uint32Array;
  length: Uint32Array;
  coverage: Float32Array;
  /** ID, number of runs, pixels and coverage of each slot. */
  ids: Uint32Array;
  runsOf: Uint32Array;
  pixelsOf: Uint32Array;
  coverageOf: Float64Array;
  over: number;
  broken: number;
}

const ROOM = 1 << 16;
/** Twice as much at each try. */
let room = ROOM;

/** Runs of the rows `y0` to `y1` of an ID layer, whose planes begin with the row `firstRow`. */
export function runsOfRows(
  planes: { width: number; ids: readonly Uint32Array[]; coverage: readonly Float32Array[] },
  y0: number,
  y1: number,
  firstRow = 0,
): RunsOfRows {
  for (; ; room *= 2) {
    const found = tryRuns(planes, y0, y1, firstRow, room);
    if (found) return found;
  }
}

function tryRuns(
  { width, ids, coverage }: Parameters<typeof runsOfRows>[0],
  y0: number,
  y1: number,
  firstRow: number,
  most: number,
): RunsOfRows | undefined {
  const k = kernelOfIds();
  const count = width * (y1 - y0);
  const from = width * (y0 - firstRow);
  const stride = 4 * count;
  const ranks = ids.length;
  const tableSize = 2 * most;
  let end = k.heap();
  const take = (bytes: number): number => {
    const at = end;
    end = aligned(end + bytes + PAD);
    return at;
  };
  const idsAt = take(ranks * stride);
  const coverageAt = take(ranks * stride);
  const named = take(4 * width + PAD);
  const all = take(4 * width + PAD);
  const table = take(8 * tableSize);
  const slotIds = take(4 * most);
  const runsOf = take(4 * most);
  const pixelsOf = take(4 * most);
  const coverageOf = take(8 * most);
  const out = take(16 * most);
  const memory = memoryUpTo(k, end);
  const { buffer } = memory;
  // Most ranks of most bands are empty: their IDs are not even looked at.
  let used = 0;
  for (let rank = 0; rank < ranks; rank++) {
    const at = coverageAt + used * stride;
    new Float32Array(buffer, at, count).set(coverage[rank]!.subarray(from, from + count));
    if (!k.anyPresent(at, count)) continue;
    new Uint32Array(buffer, idsAt + used * stride, count).set(ids[rank]!.subarray(from, from + count));
    used++;
  }
  memory.fill(0, table, table + 8 * tableSize);
  k.begin(table, tableSize - 1, slotIds, runsOf, pixelsOf, coverageOf, out, most);
  const rowStart = new Uint32Array(y1 - y0 + 1);
  for (let y = y0; y < y1; y++) {
    const at = 4 * width * (y - y0);
    if (!k.row(idsAt + at, coverageAt + at, stride, used, width, y * width, named, all)) return undefined;
    rowStart[y - y0 + 1] = k.runCount();
  }
  const runs = k.runCount();
  const slots = k.slotCount();
  const words = (array: number) => new Uint32Array(buffer, out + 4 * most * array, runs).slice();
  return {
    rowStart,
    slot: words(0),
    pixel: words(1),
    length: words(2),
    coverage: new Float32Array(buffer, out + 12 * most, runs).slice(),
    ids: new Uint32Array(buffer, slotIds, slots).slice(),
    runsOf: new Uint32Array(buffer, runsOf, slots).slice(),
    pixelsOf: new Uint32Array(buffer, pixelsOf, slots).slice(),
    coverageOf: new Float64Array(buffer, coverageOf, slots).slice(),
    over: k.overCount(),
    broken: k.brokenCount(),
  };
}
