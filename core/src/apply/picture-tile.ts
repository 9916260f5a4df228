import { showTile, type DisplayUse } from '../display/show.ts';
import { tileKernel } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Size } from '../planes/size.ts';
import { TILE, tileBounds, tilesAcross } from '../planes/tiles.ts';
import { loadTile, newTilePlanes } from './tile-planes.ts';

/** Halves the kernel's bytes of a tile of a picture. */
export function halveShown(tile: number, { width, height }: Size, halvings: number): Uint8Array {
  const kernel = tileKernel();
  if (halvings === 0) return kernel.bytes;
  const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(width), width, height);
  kernel.halve(halvings, x1 - x0, y1 - y0);
  return kernel.bytes.subarray(0, 4 * (TILE >> halvings) ** 2);
}

/**
 * A tile of a picture as bytes for the screen, RGBA, its side halved so many times: means of pixels as they are shown.
 */
export function pictureTile(
  planes: RgbPlanes,
  tile: number,
  display: DisplayUse,
  halvings = 0,
): Uint8Array<ArrayBuffer> {
  const kernel = tileKernel();
  loadTile(planes, tile, kernel);
  showTile(kernel, display, planes.toScreen);
  return halveShown(tile, planes, halvings).slice();
}

/**
 * How much two pictures of one size differ in a tile, as bytes: distances of each channel, so many times as large, shown
 * like light.
 */
export function differenceTile(
  a: RgbPlanes,
  b: RgbPlanes,
  tile: number,
  gain: number,
  display: DisplayUse,
  halvings = 0,
): Uint8Array<ArrayBuffer> {
  const kernel = tileKernel();
  const other = newTilePlanes();
  loadTile(b, tile, other);
  loadTile(a, tile, kernel);
  for (const k of ['r', 'g', 'b'] as const)
    for (let i = 0; i < other[k].length; i++) kernel[k][i] = gain * Math.abs(kernel[k][i]! - other[k][i]!);
  // A distance is no colour that primaries could change.
  showTile(kernel, display);
  return halveShown(tile, a, halvings).slice();
}

/** RGBA bytes of a whole tile, halved like {@link pictureTile}. */
export function reducedTile(
  bytes: ArrayLike<number>,
  tile: number,
  size: Size,
  halvings: number,
): Uint8Array<ArrayBuffer> {
  tileKernel().bytes.set(bytes);
  return halveShown(tile, size, halvings).slice();
}
