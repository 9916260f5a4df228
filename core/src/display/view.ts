import type { Area } from '../planes/area.ts';
import { displayByte } from '../colour/srgb.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';

const areaPixels = (a: Area) => (a.x1 - a.x0) * (a.y1 - a.y0);

/**
 * Linear to sRGB, 8 bits, after a view exposure.
 * @param stops view exposure in stops
 * @returns RGBA bytes of the area, alpha 255
 */
export function viewPicture(planes: RgbPlanes, area: Area, stops: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(areaPixels(area) * 4);
  const gain = 2 ** stops;
  let at = 0;
  for (let y = area.y0; y < area.y1; y++)
    for (let p = y * planes.width + area.x0, end = p + area.x1 - area.x0; p < end; p++) {
      out[at] = displayByte(planes.r[p]! * gain);
      out[at + 1] = displayByte(planes.g[p]! * gain);
      out[at + 2] = displayByte(planes.b[p]! * gain);
      out[at + 3] = 255;
      at += 4;
    }
  return out;
}

/** A mask as grey levels; coverage is data, so no transfer curve is applied. */
export function viewMask(mask: Float32Array, width: number, area: Area): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(areaPixels(area) * 4);
  let at = 0;
  for (let y = area.y0; y < area.y1; y++)
    for (let p = y * width + area.x0, end = p + area.x1 - area.x0; p < end; p++) {
      const v = 255 * (mask[p] ?? 0);
      out[at] = out[at + 1] = out[at + 2] = v;
      out[at + 3] = 255;
      at += 4;
    }
  return out;
}

/** What the mask covers, on a chequer of two greys. */
export function viewCutOut(
  planes: RgbPlanes,
  mask: Float32Array,
  area: Area,
  stops: number,
): Uint8ClampedArray<ArrayBuffer> {
  const out = viewPicture(planes, area, stops);
  let at = 0;
  for (let y = area.y0; y < area.y1; y++)
    for (let x = area.x0; x < area.x1; x++, at += 4) {
      const c = Math.min(1, mask[y * planes.width + x] ?? 0);
      const chequer = ((x >> 3) + (y >> 3)) & 1 ? 92 : 108;
      for (let k = 0; k < 3; k++) out[at + k] = out[at + k]! * c + chequer * (1 - c);
    }
  return out;
}

/**
 * A display colour for an ID: hue by the golden angle over the hash, so that neighbours in the list are far
 * apart, with three steps of lightness.
 * @returns 8-bit sRGB
 */
export function idColour(id: number): [number, number, number] {
  if (id === 0) return [40, 40, 40];
  const mixed = (Math.imul(id ^ (id >>> 15), 0x2c1b3c6d) >>> 0) / 2 ** 32;
  const hue = 6 * mixed;
  const step = (id >>> 7) % 3;
  const high = [235, 200, 165][step]!;
  const low = [120, 75, 45][step]!;
  const f = hue - Math.floor(hue);
  const up = low + (high - low) * f;
  const down = high - (high - low) * f;
  return (
    [
      [high, up, low],
      [down, high, low],
      [low, high, up],
      [low, down, high],
      [up, low, high],
      [high, low, down],
    ] as [number, number, number][]
  )[Math.floor(hue) % 6]!;
}

/** Every ID in its colour, mixed by coverage, so that soft edges can be seen for what they are. */
export function viewIds(ranks: RankPlanes, area: Area): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(areaPixels(area) * 4);
  const colours = new Map<number, [number, number, number]>();
  let at = 0;
  for (let y = area.y0; y < area.y1; y++)
    for (let p = y * ranks.width + area.x0, end = p + area.x1 - area.x0; p < end; p++, at += 4) {
      let left = 1;
      let r = 0;
      let g = 0;
      let b = 0;
      for (let k = 0; k < ranks.ids.length; k++) {
        const c = ranks.coverage[k]![p]!;
        if (!(c > 0)) continue;
        const id = ranks.ids[k]![p]!;
        let colour = colours.get(id);
        if (!colour) colours.set(id, (colour = idColour(id)));
        r += c * colour[0];
        g += c * colour[1];
        b += c * colour[2];
        left -= c;
      }
      out[at] = r + left * 40;
      out[at + 1] = g + left * 40;
      out[at + 2] = b + left * 40;
      out[at + 3] = 255;
    }
  return out;
}
