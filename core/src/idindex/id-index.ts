import { tilesAcross, TILE } from '../planes/tiles.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';

/**
 * Made once per ID layer and frame: for every ID the list of the pixels it covers and by how much, beside the
 * per-pixel ranks. A mask then costs what its members cover, not the frame.
 * Lists lie end to end: member `slot` owns `pixels[start[slot]] … pixels[start[slot + 1] - 1]`.
 */
export interface IdIndex {
  planes: RankPlanes;
  /** The IDs that occur, in order of first appearance; the position is the member's slot. */
  ids: Uint32Array;
  slotOf: ReadonlyMap<number, number>;
  start: Uint32Array;
  /** Pixel numbers (y * width + x), rising within a rank. */
  pixels: Uint32Array;
  coverage: Float32Array;
  tilesX: number;
  tilesY: number;
  /** For each slot a bit set of the tiles it touches, `tileWords` 32-bit words a slot. */
  tiles: Uint32Array;
  tileWords: number;
}

/** Open-addressing table from ID to slot; a Map is several times slower in the inner loop. */
class SlotTable {
  private keys = new Uint32Array(1024);
  private slots = new Int32Array(1024).fill(-1);
  readonly ids: number[] = [];

  slot(id: number): number {
    let mask = this.keys.length - 1;
    let at = Math.imul(id, 0x9e3779b1) >>> 7;
    for (;;) {
      at &= mask;
      const slot = this.slots[at]!;
      if (slot < 0) break;
      if (this.keys[at] === id) return slot;
      at++;
    }
    if (this.ids.length * 2 >= mask) {
      this.grow();
      mask = this.keys.length - 1;
      at = Math.imul(id, 0x9e3779b1) >>> 7;
      while (this.slots[(at &= mask)]! >= 0) at++;
    }
    this.keys[at] = id;
    this.slots[at] = this.ids.length;
    return this.ids.push(id) - 1;
  }

  private grow(): void {
    const size = this.keys.length * 4;
    this.keys = new Uint32Array(size);
    this.slots = new Int32Array(size).fill(-1);
    this.ids.forEach((id, slot) => {
      let at = Math.imul(id, 0x9e3779b1) >>> 7;
      while (this.slots[(at &= size - 1)]! >= 0) at++;
      this.keys[at] = id;
      this.slots[at] = slot;
    });
  }
}

/** Builds the index of one ID layer. Ranks with coverage 0 or less, or not a number, are left out. */
export function buildIdIndex(planes: RankPlanes): IdIndex {
  const { width, height } = planes;
  const table = new SlotTable();
  let counts = new Uint32Array(1024);
  let lastId = 0;
  let lastSlot = -1;
  for (let rank = 0; rank < planes.ids.length; rank++) {
    const ids = planes.ids[rank]!;
    const cover = planes.coverage[rank]!;
    for (let p = 0; p < ids.length; p++) {
      if (!(cover[p]! > 0)) continue;
      const id = ids[p]!;
      if (id === 0) continue;
      if (id !== lastId || lastSlot < 0) {
        lastId = id;
        lastSlot = table.slot(id);
        if (lastSlot >= counts.length) {
          const more = new Uint32Array(counts.length * 2);
          more.set(counts);
          counts = more;
        }
      }
      counts[lastSlot]!++;
    }
  }
  const members = table.ids.length;
  const start = new Uint32Array(members + 1);
  for (let s = 0; s < members; s++) start[s + 1] = start[s]! + counts[s]!;
  const next = start.slice(0, members);
  const pixels = new Uint32Array(start[members]!);
  const coverage = new Float32Array(start[members]!);
  const tilesX = tilesAcross(width);
  const tilesY = tilesAcross(height);
  const tileWords = Math.ceil((tilesX * tilesY) / 32);
  const tiles = new Uint32Array(members * tileWords);
  for (let rank = 0; rank < planes.ids.length; rank++) {
    const ids = planes.ids[rank]!;
    const cover = planes.coverage[rank]!;
    lastSlot = -1;
    for (let y = 0, p = 0; y < height; y++) {
      const tileRow = Math.floor(y / TILE) * tilesX;
      for (let x = 0; x < width; x++, p++) {
        const c = cover[p]!;
        if (!(c > 0)) continue;
        const id = ids[p]!;
        if (id === 0) continue;
        if (id !== lastId || lastSlot < 0) {
          lastId = id;
          lastSlot = table.slot(id);
        }
        const at = next[lastSlot]!++;
        pixels[at] = p;
        coverage[at] = c;
        const tile = tileRow + (x >>> 6);
        tiles[lastSlot * tileWords + (tile >>> 5)]! |= 1 << (tile & 31);
      }
    }
  }
  return {
    planes,
    ids: Uint32Array.from(table.ids),
    slotOf: new Map(table.ids.map((id, slot) => [id, slot])),
    start,
    pixels,
    coverage,
    tilesX,
    tilesY,
    tiles,
    tileWords,
  };
}

/** Sum of coverage and number of distinct pixels of one member. */
export function memberArea(index: IdIndex, slot: number): { coverage: number; pixels: number } {
  let sum = 0;
  const seen = new Set<number>();
  const from = index.start[slot]!;
  const to = index.start[slot + 1]!;
  // Pixels rise within a rank, so a pixel can only repeat after a step back; most members need no set.
  let sorted = true;
  for (let k = from; k < to; k++) {
    sum += index.coverage[k]!;
    if (k > from && index.pixels[k]! <= index.pixels[k - 1]!) sorted = false;
  }
  if (sorted) return { coverage: sum, pixels: to - from };
  for (let k = from; k < to; k++) seen.add(index.pixels[k]!);
  return { coverage: sum, pixels: seen.size };
}
