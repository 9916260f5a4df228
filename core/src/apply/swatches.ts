import type { Triple } from '../colour/oklab.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, tileBounds } from '../planes/tiles.ts';

/** From here on a pixel is the mask's alone; fewer pixels than so many are too few to speak for it. */
const PURE = 0.95;
const ENOUGH = 64;

/**
 * Mean scene-linear colour under a mask, in each of some pictures; undefined if it covers nothing. Pixels at the edge show
 * other things, too: they are left out where there are enough without them.
 */
export const meanUnder = (mask: TileMask, pictures: readonly RgbPlanes[]): Triple[] | undefined =>
  meanAbove(mask, pictures, PURE, ENOUGH) ?? meanAbove(mask, pictures, 0, 1);

function meanAbove(
  mask: TileMask,
  pictures: readonly RgbPlanes[],
  above: number,
  least: number,
): Triple[] | undefined {
  const { width, height } = mask.size;
  const sums = pictures.map(() => new Float64Array(3));
  let weight = 0;
  let count = 0;
  for (let t = 0; t < mask.tileCount; t++) {
    const cover = mask.tile(t);
    if (!cover) continue;
    const { x0, y0, x1, y1 } = tileBounds(t, mask.tilesX, width, height);
    for (let y = y0; y < y1; y++)
      for (let x = x0; x < x1; x++) {
        const c = cover[(y - y0) * TILE + x - x0]!;
        if (!(c > above)) continue;
        weight += c;
        count++;
        const p = y * width + x;
        for (let i = 0; i < pictures.length; i++) {
          const { r, g, b } = pictures[i]!;
          const sum = sums[i]!;
          sum[0]! += c * r[p]!;
          sum[1]! += c * g[p]!;
          sum[2]! += c * b[p]!;
        }
      }
  }
  if (count < least) return undefined;
  return sums.map((s) => [s[0]! / weight, s[1]! / weight, s[2]! / weight]);
}
