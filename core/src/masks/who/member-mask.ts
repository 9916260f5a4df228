import type { IdIndex } from '../../idindex/id-index.ts';
import { TILE } from '../../planes/tiles.ts';
import type { Allocate } from '../../planes/tile-store.ts';
import { TileMask } from '../tile-mask.ts';

/** Marks the tiles that a slot touches. */
export function markTiles({ tiles: bits, tileWords }: IdIndex, slot: number, tiles: Uint8Array): void {
  for (let word = 0; word < tileWords; word++) {
    for (let left = bits[slot * tileWords + word]!; left !== 0; left &= left - 1)
      tiles[word * 32 + 31 - Math.clz32(left & -left)] = 1;
  }
}

/**
 * Computes marked tiles of a mask: in each pixel the sum of the coverages of the ranks, each times the share of its ID,
 * rank by rank, so that it does not matter in which order members came.
 */
export function fillTiles(index: IdIndex, shares: Float32Array, mask: TileMask, marked: Uint8Array): void {
  for (let row = 0; row < mask.tilesY; row++) fillRow(index, shares, mask, row, marked);
}

/** One row of tiles, from the runs of its lines. */
function fillRow(
  index: IdIndex,
  shares: Float32Array,
  mask: TileMask,
  row: number,
  marked: Uint8Array,
): void {
  const { tilesX } = mask;
  const tiles: (Float32Array | undefined)[] = [];
  const touched = new Uint8Array(tilesX);
  let first = -1;
  let last = -1;
  for (let x = 0; x < tilesX; x++) {
    const t = row * tilesX + x;
    if (!marked[t]) continue;
    tiles[x] = mask.cleared(t);
    if (first < 0) first = x;
    last = x;
  }
  if (first < 0) return;
  const { width, height, rowStart, slot, pixel, length, coverage } = index;
  for (let y = row * TILE, yEnd = Math.min(height, y + TILE); y < yEnd; y++) {
    const line = (y % TILE) * TILE;
    const from = y * width + first * TILE;
    const to = y * width + (last + 1) * TILE;
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
      const share = shares[slot[i]!]!;
      if (share === 0) continue;
      const p0 = Math.max(pixel[i]!, from);
      const p1 = Math.min(pixel[i]! + length[i]!, to);
      const c = coverage[i]! * share;
      for (let x = p0 - y * width, xEnd = p1 - y * width; x < xEnd;) {
        const tx = x >> 6;
        const stop = Math.min(xEnd, (tx + 1) << 6);
        const tile = tiles[tx];
        if (!tile) {
          x = stop;
          continue;
        }
        touched[tx] = 1;
        for (; x < stop; x++) tile[line + (x & 63)]! += c;
      }
    }
  }
  for (let x = first; x <= last; x++) if (tiles[x] && !touched[x]) mask.drop(row * tilesX + x);
}

/**
 * Coverage of a set of members of one ID layer. Only tiles that a member touches which came or went are computed.
 */
export class MemberMask {
  readonly mask: TileMask;
  private readonly shares: Float32Array;

  constructor(
    readonly index: IdIndex,
    allocate?: Allocate,
  ) {
    this.mask = new TileMask(index, allocate);
    this.shares = new Float32Array(index.ids.length);
  }

  /** Makes the set exactly these IDs; those that do not occur are passed over. Returns a byte a tile, 1 if it changed. */
  setMembers(ids: ReadonlySet<number>): Uint8Array {
    const { index, shares, mask } = this;
    const changed = new Uint8Array(mask.tileCount);
    for (let slot = 0; slot < shares.length; slot++) {
      const wanted = ids.has(index.ids[slot]!) ? 1 : 0;
      if (shares[slot] === wanted) continue;
      shares[slot] = wanted;
      markTiles(index, slot, changed);
    }
    fillTiles(index, shares, mask, changed);
    return changed;
  }
}

/** The mask of some members together, made once. */
export function maskOfMembers(index: IdIndex, ids: Iterable<number>): TileMask {
  const members = new MemberMask(index);
  members.setMembers(new Set(ids));
  return members.mask;
}

/** The mask of one member. */
export const maskOfMember = (index: IdIndex, id: number): TileMask => maskOfMembers(index, [id]);
