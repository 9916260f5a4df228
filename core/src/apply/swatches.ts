import type { Triple } from '../colour/oklab.ts';
import { eachUnder, ENOUGH, PURE } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

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
  const sums = pictures.map(() => new Float64Array(3));
  let weight = 0;
  let count = 0;
  eachUnder(mask, above, (c, p) => {
    weight += c;
    count++;
    for (let i = 0; i < pictures.length; i++) {
      const { r, g, b } = pictures[i]!;
      const sum = sums[i]!;
      sum[0]! += c * r[p]!;
      sum[1]! += c * g[p]!;
      sum[2]! += c * b[p]!;
    }
  });
  if (count < least) return undefined;
  return sums.map((s) => [s[0]! / weight, s[1]! / weight, s[2]! / weight]);
}
