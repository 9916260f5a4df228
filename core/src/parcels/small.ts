import { encode } from 'fast-png';
import { smallPicture, boundsUnder } from '../apply/small-picture.ts';
import { PLAIN_DISPLAY } from '../display/show.ts';
import type { Area } from '../planes/area.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { TileMask } from '../masks/tile-mask.ts';

/** An area of a picture as a PNG for people, sRGB, its longer side so long at most. */
export function smallPng(
  planes: RgbPlanes,
  area: Area,
  side: number,
): { png: Uint8Array; width: number; height: number } {
  const { width, height, data } = smallPicture(planes, area, side, PLAIN_DISPLAY);
  const rgb = new Uint8Array(3 * width * height);
  for (let p = 0; p < width * height; p++) rgb.set(data.subarray(4 * p, 4 * p + 3), 3 * p);
  return { png: encode({ width, height, channels: 3, depth: 8, data: rgb }), width, height };
}
export const wholeArea = ({ width, height }: { width: number; height: number }): Area => ({
  x0: 0,
  y0: 0,
  x1: width,
  y1: height,
});

/** The area of a mask with some room around it; the whole picture where it covers nothing. */
export function areaAround(mask: TileMask, size: { width: number; height: number }): Area {
  const own = boundsUnder(mask);
  if (!own) return wholeArea(size);
  const room = Math.ceil(0.15 * Math.max(own.x1 - own.x0, own.y1 - own.y0)) + 4;
  return {
    x0: Math.max(0, own.x0 - room),
    y0: Math.max(0, own.y0 - room),
    x1: Math.min(size.width, own.x1 + room),
    y1: Math.min(size.height, own.y1 + room),
  };
}
