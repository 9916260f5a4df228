import { eachUnder } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { Area } from '../planes/area.ts';
import type { Size } from '../planes/size.ts';

/** Which pixels of a picture are looked at: all, those that a mask covers, or a rectangle. */
export type Region = { of: 'frame' } | { of: 'mask'; mask: TileMask } | { of: 'area'; area: Area };

/** Calls `use` for each pixel of a region with how much it counts, 0 to 1, and its place, y * width + x. */
export function eachIn(region: Region, size: Size, use: (counts: number, at: number) => void): void {
  if (region.of === 'mask') return eachUnder(region.mask, 0, use);
  const { x0, y0, x1, y1 } =
    region.of === 'area' ? region.area : { x0: 0, y0: 0, x1: size.width, y1: size.height };
  for (let y = Math.max(0, y0); y < Math.min(size.height, y1); y++)
    for (
      let at = y * size.width + Math.max(0, x0), end = y * size.width + Math.min(size.width, x1);
      at < end;
      at++
    )
      use(1, at);
}
