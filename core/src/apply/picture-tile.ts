import { tileKernel } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { loadTile } from './tile-planes.ts';

/** A tile of a picture as sRGB bytes for the screen, RGBA, so many stops brighter. */
export function pictureTile(planes: RgbPlanes, tile: number, stops: number): Uint8Array {
  const kernel = tileKernel();
  loadTile(planes, tile, kernel);
  kernel.show(stops);
  return kernel.bytes.slice();
}
