import { tileKernel } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Size } from '../planes/size.ts';
import { TILE, tileBounds, tilesAcross } from '../planes/tiles.ts';
import { loadTile } from './tile-planes.ts';

/** Halves the kernel's bytes of a tile of a picture. */
export function halveShown(tile: number, { width, height }: Size, halvings: number): Uint8Array {
  const kernel = tileKernel();
  if (halvings === 0) return kernel.bytes;
  const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(width), width, height);
  kernel.halve(halvings, x1 - x0, y1 - y0);
  return kernel.bytes.subarray(0, 4 * (TILE >> halvings) ** 2);
}

/**
 * A tile of a picture as sRGB bytes for the screen, RGBA, so many stops brighter, its side halved so many times: means
 * of pixels as they are shown.
 */
export function pictureTile(
  planes: RgbPlanes,
  tile: number,
  stops: number,
  halvings = 0,
): Uint8Array<ArrayBuffer> {
  const kernel = tileKernel();
  loadTile(planes, tile, kernel);
  kernel.show(stops, planes.toScreen);
  return halveShown(tile, planes, halvings).slice();
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
