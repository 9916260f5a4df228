import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { eachIn, type Region } from './region.ts';

/** Means of a region in several pictures of one size, in each one's own primaries; undefined where there is nothing. */
export function meansIn(
  pictures: readonly RgbPlanes[],
  region: Region,
): [number, number, number][] | undefined {
  const sums = pictures.map(() => [0, 0, 0] as [number, number, number]);
  let weight = 0;
  eachIn(region, pictures[0]!, (counts, at) => {
    weight += counts;
    pictures.forEach(({ r, g, b }, i) => {
      const sum = sums[i]!;
      sum[0] += counts * r[at]!;
      sum[1] += counts * g[at]!;
      sum[2] += counts * b[at]!;
    });
  });
  return weight > 0 ? sums.map(([r, g, b]) => [r / weight, g / weight, b / weight]) : undefined;
}
