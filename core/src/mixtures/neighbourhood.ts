import { finite } from '../planes/finite.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';
import type { TileRuns } from './tile-runs.ts';

/** The picture and its halves, quarters, … to sixteenths. */
export const LEVELS = 5;
/** Members that are told apart in a cell, the largest. */
export const MEMBERS = 8;
/** Pixels around a tile that are looked at: as far as a cell of the coarsest level may lie away from one of its pixels. */
export const AROUND = 48;
/** Pixels of the window's side; it begins at a multiple of the coarsest cells. */
export const SIDE = TILE + 2 * AROUND;

/** Cells of a level, row-major: mean colour, and the members that they show with their coverage, largest first. */
export interface Level {
  side: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** Members of each cell, up to MEMBERS; -1 outside the picture, and where there is no finite colour. */
  count: Int8Array;
  /** Slots of the index, MEMBERS places a cell. */
  slot: Uint32Array;
  coverage: Float32Array;
}

/** Memory for what lies in and around a tile, level by level; used again for every tile. */
export const newNeighbourhood = (): Level[] =>
  Array.from({ length: LEVELS }, (_, l) => {
    const side = SIDE >> l;
    const cells = side * side;
    const plane = () => new Float32Array(cells);
    return {
      side,
      r: plane(),
      g: plane(),
      b: plane(),
      count: new Int8Array(cells),
      slot: new Uint32Array(MEMBERS * cells),
      coverage: new Float32Array(MEMBERS * cells),
    };
  });

/** Adds coverage to a cell's list; beyond MEMBERS what comes last is left out. */
function add({ count, slot, coverage }: Level, cell: number, member: number, share: number): void {
  const from = cell * MEMBERS;
  const n = count[cell]!;
  for (let k = from; k < from + n; k++)
    if (slot[k] === member) {
      coverage[k]! += share;
      return;
    }
  if (n === MEMBERS) return;
  slot[from + n] = member;
  coverage[from + n] = share;
  count[cell] = n + 1;
}

/** Puts a cell's members in order, the largest first; of equal ones those that came first. */
function sort({ count, slot, coverage }: Level, cell: number): void {
  const from = cell * MEMBERS;
  for (let i = from + 1; i < from + count[cell]!; i++) {
    const [s, c] = [slot[i]!, coverage[i]!];
    let k = i;
    for (; k > from && coverage[k - 1]! < c; k--) {
      slot[k] = slot[k - 1]!;
      coverage[k] = coverage[k - 1]!;
    }
    slot[k] = s;
    coverage[k] = c;
  }
}

/** Fills the pixels of the window around a tile whose upper left pixel is (x0, y0). In plain code, as the kernel does. */
export function fillPixels(pixels: Level, planes: RgbPlanes, runs: TileRuns, x0: number, y0: number): void {
  const { width, height } = planes;
  const { side, count } = pixels;
  count.fill(-1);
  const [left, top] = [x0 - AROUND, y0 - AROUND];
  const [first, end] = [Math.max(0, left), Math.min(width, left + side)];
  for (let y = Math.max(0, top); y < Math.min(height, top + side); y++) {
    const row = (y - top) * side - left;
    const from = y * width;
    for (const k of ['r', 'g', 'b'] as const)
      pixels[k].set(planes[k].subarray(from + first, from + end), row + first);
    for (let x = first; x < end; x++)
      if (finite(planes.r[from + x]!, planes.g[from + x]!, planes.b[from + x]!)) count[row + x] = 0;
    const columns = y * tilesAcross(width);
    const last = runs.start[columns + tilesAcross(end)]!;
    for (let i = runs.start[columns + Math.floor(first / TILE)]!; i < last; i++)
      for (let x = Math.max(first, runs.first[i]!); x < Math.min(end, runs.end[i]!); x++)
        if (count[row + x]! >= 0) add(pixels, row + x, runs.slot[i]!, runs.coverage[i]!);
  }
}

/** Whether a tile has a pixel that is not covered by one member alone. */
export function anyMixed({ width, height, start, coverage }: TileRuns, x0: number, y0: number): boolean {
  const tilesX = tilesAcross(width);
  for (let y = y0; y < Math.min(height, y0 + TILE); y++) {
    const bucket = y * tilesX + Math.floor(x0 / TILE);
    for (let i = start[bucket]!; i < start[bucket + 1]!; i++) if (coverage[i]! <= PURE) return true;
  }
  return false;
}

/** From here on a pixel is taken to show one member alone. */
export const PURE = Math.fround(0.996);

/**
 * Puts members in order and makes every coarser level: means of four cells, as many as there are, and their members
 * together.
 */
export function fillLevels(levels: readonly Level[]): void {
  const pixels = levels[0]!;
  for (let cell = 0; cell < pixels.count.length; cell++) if (pixels.count[cell]! > 1) sort(pixels, cell);
  for (let l = 1; l < levels.length; l++) {
    const fine = levels[l - 1]!;
    const own = levels[l]!;
    own.count.fill(-1);
    for (let y = 0; y < own.side; y++)
      for (let x = 0; x < own.side; x++) join(fine, own, y * own.side + x, 2 * y * fine.side + 2 * x);
  }
}

function join(fine: Level, own: Level, cell: number, corner: number): void {
  let n = 0;
  for (let q = 0; q < 4; q++) if (fine.count[corner + (q >> 1) * fine.side + (q & 1)]! >= 0) n++;
  own.r[cell] = own.g[cell] = own.b[cell] = 0;
  if (n === 0) return;
  own.count[cell] = 0;
  for (let q = 0; q < 4; q++) {
    const p = corner + (q >> 1) * fine.side + (q & 1);
    const members = fine.count[p]!;
    if (members < 0) continue;
    own.r[cell]! += fine.r[p]! / n;
    own.g[cell]! += fine.g[p]! / n;
    own.b[cell]! += fine.b[p]! / n;
    for (let k = p * MEMBERS; k < p * MEMBERS + members; k++)
      add(own, cell, fine.slot[k]!, fine.coverage[k]! / n);
  }
  sort(own, cell);
}
