import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, TILE_PIXELS, tileBounds, tilesAcross } from '../planes/tiles.ts';

/** Colours of one tile: TILE rows of TILE numbers a plane. */
export interface TilePlanes {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

export const newTilePlanes = (): TilePlanes => ({
  r: new Float32Array(TILE_PIXELS),
  g: new Float32Array(TILE_PIXELS),
  b: new Float32Array(TILE_PIXELS),
});

const PLANES = ['r', 'g', 'b'] as const;

/** Takes a tile out of a picture; what lies outside is 0. */
export function loadTile(planes: RgbPlanes, tile: number, out: TilePlanes): void {
  const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(planes.width), planes.width, planes.height);
  const whole = x1 - x0 === TILE && y1 - y0 === TILE;
  for (const k of PLANES) {
    if (!whole) out[k].fill(0);
    for (let y = y0; y < y1; y++)
      out[k].set(planes[k].subarray(y * planes.width + x0, y * planes.width + x1), (y - y0) * TILE);
  }
}

/** Puts a tile into a picture. */
export function storeTile(planes: RgbPlanes, tile: number, from: TilePlanes): void {
  const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(planes.width), planes.width, planes.height);
  for (const k of PLANES)
    for (let y = y0; y < y1; y++)
      planes[k].set(from[k].subarray((y - y0) * TILE, (y - y0) * TILE + x1 - x0), y * planes.width + x0);
}

/** Between a tile's planes and three planes end to end. */
export function packTile(from: TilePlanes, out: Float32Array): void {
  PLANES.forEach((k, i) => out.set(from[k], i * TILE_PIXELS));
}
export function unpackTile(from: Float32Array, out: TilePlanes): void {
  const own = viewTile(from);
  for (const k of PLANES) out[k].set(own[k]);
}
/** Planes that stand end to end, as they are: no copies. */
export const viewTile = (from: Float32Array): TilePlanes => ({
  r: from.subarray(0, TILE_PIXELS),
  g: from.subarray(TILE_PIXELS, 2 * TILE_PIXELS),
  b: from.subarray(2 * TILE_PIXELS, 3 * TILE_PIXELS),
});
