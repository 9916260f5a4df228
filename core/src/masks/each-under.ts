import { TILE, tileBounds } from '../planes/tiles.ts';
import type { TileMask } from './tile-mask.ts';

/** From here on a pixel is the mask's alone; fewer pixels than so many are too few to speak for what it covers. */
export const PURE = 0.95;
export const ENOUGH = 64;

/** Calls `use` for each pixel that a mask covers by more than `above`, with its coverage and its place, y * width + x. */
export function eachUnder(mask: TileMask, above: number, use: (cover: number, at: number) => void): void {
  const { width, height } = mask.size;
  for (let t = 0; t < mask.tileCount; t++) {
    const cover = mask.tile(t);
    if (!cover) continue;
    const { x0, y0, x1, y1 } = tileBounds(t, mask.tilesX, width, height);
    for (let y = y0; y < y1; y++)
      for (let x = x0; x < x1; x++) {
        const c = cover[(y - y0) * TILE + x - x0]!;
        if (c > above) use(c, y * width + x);
      }
  }
}
