import type { IdIndex } from '../idindex/id-index.ts';

/**
 * Coverage of a set of members of one ID layer, kept while members go in and out: the sum, in each pixel, of
 * the coverages of the ranks whose ID is in the set. Putting in or out costs the member's pixels only.
 */
export class LayerMask {
  /** Row-major, one float a pixel, 0 to 1. Exactly 0 where no member of the set is. */
  readonly coverage: Float32Array;
  private readonly inSet: Uint8Array;

  constructor(readonly index: IdIndex) {
    this.coverage = new Float32Array(index.planes.width * index.planes.height);
    this.inSet = new Uint8Array(index.ids.length);
  }

  has(id: number): boolean {
    const slot = this.index.slotOf.get(id);
    return slot !== undefined && this.inSet[slot] === 1;
  }

  /** Puts a member in; false if it was in already or does not occur in this picture. */
  add(id: number): boolean {
    const slot = this.index.slotOf.get(id);
    if (slot === undefined || this.inSet[slot]) return false;
    this.inSet[slot] = 1;
    const { start, pixels, coverage } = this.index;
    const out = this.coverage;
    const end = start[slot + 1]!;
    for (let k = start[slot]!; k < end; k++) out[pixels[k]!]! += coverage[k]!;
    return true;
  }

  /** Takes a member out; false if it was not in. */
  remove(id: number): boolean {
    const slot = this.index.slotOf.get(id);
    if (slot === undefined || !this.inSet[slot]) return false;
    this.inSet[slot] = 0;
    const { start, pixels, planes, slotOf } = this.index;
    const end = start[slot + 1]!;
    for (let k = start[slot]!; k < end; k++) {
      // Summed anew: subtracting would leave rounding behind where the mask must be exactly 0.
      const p = pixels[k]!;
      let sum = 0;
      for (let rank = 0; rank < planes.ids.length; rank++) {
        const other = planes.ids[rank]![p]!;
        if (other === 0 || !(planes.coverage[rank]![p]! > 0)) continue;
        if (this.inSet[slotOf.get(other)!]) sum += planes.coverage[rank]![p]!;
      }
      this.coverage[p] = sum;
    }
    return true;
  }

  /** Makes the set exactly these IDs, touching only what differs. */
  setMembers(ids: ReadonlySet<number>): void {
    for (let slot = 0; slot < this.inSet.length; slot++)
      if (this.inSet[slot] && !ids.has(this.index.ids[slot]!)) this.remove(this.index.ids[slot]!);
    for (const id of ids) this.add(id);
  }

  /** One byte a tile, 1 where a member of the set touches it. */
  touchedTiles(): Uint8Array {
    const { tilesX, tilesY, tiles, tileWords } = this.index;
    const touched = new Uint8Array(tilesX * tilesY);
    for (let slot = 0; slot < this.inSet.length; slot++) {
      if (!this.inSet[slot]) continue;
      for (let t = 0; t < touched.length; t++)
        if (tiles[slot * tileWords + (t >>> 5)]! & (1 << (t & 31))) touched[t] = 1;
    }
    return touched;
  }
}
