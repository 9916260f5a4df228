/** Tiles that are taken from memory at a time. */
const SLAB = 32;

/** Where memory comes from: plain, or such that other threads see it. */
export type Allocate = (bytes: number) => ArrayBufferLike;
export const plainMemory: Allocate = (bytes) => new ArrayBuffer(bytes);

/** Tiles as plain data, for another thread. */
export interface TileData {
  /** Numbers a tile. */
  per: number;
  /** For each tile of the picture its place in the slabs, or -1. */
  where: Int32Array;
  slabs: Float32Array[];
}

/** The numbers of a tile; undefined if there are none. */
export function tileOf({ per, where, slabs }: TileData, tile: number): Float32Array | undefined {
  const at = where[tile]!;
  if (at < 0) return undefined;
  const from = (at % SLAB) * per;
  return slabs[Math.floor(at / SLAB)]!.subarray(from, from + per);
}

/** Numbers of some tiles of a picture; the others take no memory. */
export class TileStore {
  readonly data: TileData;
  private used = 0;
  private readonly free: number[] = [];

  constructor(
    tiles: number,
    per: number,
    private readonly allocate: Allocate = plainMemory,
  ) {
    this.data = { per, where: new Int32Array(allocate(4 * tiles)).fill(-1), slabs: [] };
  }

  has(tile: number): boolean {
    return this.data.where[tile]! >= 0;
  }
  tile(tile: number): Float32Array | undefined {
    return tileOf(this.data, tile);
  }
  /** The tile, which is there from now on; a new one holds anything. */
  take(tile: number): Float32Array {
    const { where, slabs, per } = this.data;
    if (where[tile]! < 0) {
      where[tile] = this.free.pop() ?? this.used++;
      if (where[tile]! >= slabs.length * SLAB) slabs.push(new Float32Array(this.allocate(4 * SLAB * per)));
    }
    return this.tile(tile)!;
  }
  /** Gives the memory of a tile back. */
  drop(tile: number): void {
    const { where } = this.data;
    if (where[tile]! < 0) return;
    this.free.push(where[tile]!);
    where[tile] = -1;
  }
}
