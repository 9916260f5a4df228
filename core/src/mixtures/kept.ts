import type { Allocate } from '../planes/tile-store.ts';

/** Mixtures of a layer, as far as they are known, as plain data for other threads. */
export interface MixtureData {
  /** For each tile of the picture: 0 not known, 1 nothing is mixed there, otherwise its place in `packed`, plus 2. */
  where: Uint32Array;
  packed: ArrayBufferLike[];
}

/** Keeps what the mixed pixels of a picture are made of in one ID layer, tile by tile; it never changes. */
export class KeptMixtures {
  readonly data: MixtureData;

  constructor(
    tiles: number,
    private readonly allocate: Allocate,
  ) {
    this.data = { where: new Uint32Array(allocate(4 * tiles)), packed: [] };
  }

  knows(tile: number): boolean {
    return this.data.where[tile] !== 0;
  }

  /** Takes what was found in a tile; undefined: nothing is mixed there. */
  take(tile: number, found: ArrayBufferLike | undefined): void {
    const { where, packed } = this.data;
    if (!found) {
      where[tile] = 1;
      return;
    }
    const own = this.allocate(found.byteLength);
    new Uint8Array(own).set(new Uint8Array(found));
    where[tile] = packed.push(own) + 1;
  }
}

/** What is known of a tile that has mixed pixels. */
export const mixturesOf = ({ where, packed }: MixtureData, tile: number): ArrayBufferLike | undefined =>
  where[tile]! > 1 ? packed[where[tile]! - 2] : undefined;
