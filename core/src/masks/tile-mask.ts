import type { Size } from '../planes/size.ts';
import { TileStore, type Allocate } from '../planes/tile-store.ts';
import { TILE, TILE_PIXELS, tilesAcross } from '../planes/tiles.ts';

/**
 * Coverage of a picture, 0 to 1, kept only for tiles in which there is any. A tile is TILE rows of TILE numbers, also
 * where the picture ends in it; what lies outside is 0.
 */
export class TileMask {
  readonly tilesX: number;
  readonly tilesY: number;
  private readonly store: TileStore;

  /** @param allocate memory of the tiles, where other threads shall see it */
  constructor(
    readonly size: Size,
    allocate?: Allocate,
  ) {
    this.tilesX = tilesAcross(size.width);
    this.tilesY = tilesAcross(size.height);
    this.store = new TileStore(this.tilesX * this.tilesY, TILE_PIXELS, allocate);
  }

  get data() {
    return this.store.data;
  }
  get tileCount(): number {
    return this.tilesX * this.tilesY;
  }
  has(tile: number): boolean {
    return this.store.has(tile);
  }
  tile(tile: number): Float32Array | undefined {
    return this.store.tile(tile);
  }
  /** The tile for writing, all 0. */
  cleared(tile: number): Float32Array {
    return this.store.take(tile).fill(0);
  }
  /**
   * Makes a tile hold this, or nothing where nothing is covered.
   * @param coverage TILE rows of TILE numbers; copied
   * @returns whether that is anything else than before
   */
  replace(tile: number, coverage: Float32Array | undefined): boolean {
    const before = this.tile(tile);
    if (!coverage?.some((c) => c > 0)) {
      this.drop(tile);
      return before !== undefined;
    }
    let same = before !== undefined;
    for (let i = 0; same && i < TILE_PIXELS; i++) same = before![i] === coverage[i];
    if (!same) this.store.take(tile).set(coverage);
    return !same;
  }
  /** Makes a tile 0 and gives its memory back. */
  drop(tile: number): void {
    this.store.drop(tile);
  }

  at(x: number, y: number): number {
    const tile = this.tile(Math.floor(y / TILE) * this.tilesX + Math.floor(x / TILE));
    return tile?.[(y % TILE) * TILE + (x % TILE)] ?? 0;
  }

  /** The whole mask, row-major. */
  flat(): Float32Array {
    const { width, height } = this.size;
    const out = new Float32Array(width * height);
    for (let t = 0; t < this.tileCount; t++) {
      const tile = this.tile(t);
      if (!tile) continue;
      const x0 = (t % this.tilesX) * TILE;
      const y0 = Math.floor(t / this.tilesX) * TILE;
      const across = Math.min(TILE, width - x0);
      for (let y = y0; y < Math.min(y0 + TILE, height); y++) {
        const from = (y - y0) * TILE;
        out.set(tile.subarray(from, from + across), y * width + x0);
      }
    }
    return out;
  }
}
