import { through } from '../colour/matrix.ts';
import { eachUnder } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, TILE_PIXELS, tileBounds, tilesAcross } from '../planes/tiles.ts';

/** What is to be known of a picture: as it is, as it was rendered, and where some mask is. */
export interface Watched {
  now: RgbPlanes;
  rendered: RgbPlanes;
  /** 1 where a change that is on covers something; undefined if nobody asks. */
  covered: Uint8Array | undefined;
  /** 1 where a correction can only guess; undefined if nobody asks. */
  guessed: Uint8Array | undefined;
  /** View exposure as a factor. */
  gain: number;
}

/** One thing that may be wrong with pixels. */
export interface Warning {
  name: string;
  label: string;
  hint: string;
  /** True for the pixel at a place. */
  at(watched: Watched, p: number): boolean;
}

const PLANES = ['r', 'g', 'b'] as const;

/** Every warning there is, in the order in which the interface offers them. */
export const WARNINGS: readonly Warning[] = [
  {
    name: 'clipped',
    label: 'Clipped',
    hint: 'Brighter than the screen can show, at this view exposure.',
    at: ({ now: { r, g, b }, gain }, p) => Math.max(r[p]!, g[p]!, b[p]!) * gain > 1,
  },
  {
    name: 'negative',
    label: 'Negative',
    hint: 'A channel below 0: no light is.',
    at: ({ now: { r, g, b } }, p) => Math.min(r[p]!, g[p]!, b[p]!) < 0,
  },
  {
    name: 'gamut',
    label: 'Out of gamut',
    hint: 'A colour that the screen has not: in Rec. 709 a channel would be below 0.',
    at({ now: { r, g, b, toScreen } }, p) {
      const own = [r[p]!, g[p]!, b[p]!] as const;
      const c = toScreen ? through(toScreen, own) : own;
      // Rounding is no colour.
      return Math.min(...c) < -1e-4 * Math.max(1e-3, ...c);
    },
  },
  {
    name: 'outside',
    label: 'Changed outside the masks',
    hint: 'Other than it was rendered, though no mask covers it: where a glow spreads.',
    at({ now, rendered, covered }, p) {
      if (!covered || covered[p]) return false;
      return PLANES.some((k) => now[k][p] !== rendered[k][p] && !(now[k][p] !== now[k][p]));
    },
  },
  {
    name: 'guessed',
    label: 'Recolour guessed',
    hint: 'The part as a whole matches the swatch, but these pixels may be off: metal near its edge or reflecting something coloured, parts too thin to fill a pixel, and highlights that look like the rest.',
    at: ({ guessed }, p) => guessed?.[p] === 1,
  },
];

/** Where any of some masks covers something, by pixel. */
export function coveredBy(
  masks: readonly (TileMask | undefined)[],
  { width, height }: RgbPlanes,
): Uint8Array {
  const covered = new Uint8Array(width * height);
  for (const mask of masks) if (mask) eachUnder(mask, 0, (_, p) => (covered[p] = 1));
  return covered;
}

/** How many pixels of the picture each of the warnings concerns, by name. */
export function countWarnings(watched: Watched, names: readonly string[]): Record<string, number> {
  const wanted = WARNINGS.filter((w) => names.includes(w.name));
  const counts = wanted.map(() => 0);
  const n = watched.now.r.length;
  for (let p = 0; p < n; p++)
    for (let i = 0; i < wanted.length; i++) if (wanted[i]!.at(watched, p)) counts[i]!++;
  return Object.fromEntries(wanted.map((w, i) => [w.name, counts[i]!]));
}

/**
 * A tile of warnings to be laid over the picture, RGBA: stripes or squares of black and white, others for each of
 * them, and nothing elsewhere. They are as wide on the screen if the tile's side is halved so many times.
 */
export function showWarnings(
  watched: Watched,
  tile: number,
  names: readonly string[],
  halvings = 0,
): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(4 * TILE_PIXELS);
  const { width, height } = watched.now;
  const { x0, y0, x1, y1 } = tileBounds(tile, tilesAcross(width), width, height);
  WARNINGS.forEach((warning, i) => {
    if (!names.includes(warning.name)) return;
    for (let y = y0; y < y1; y++)
      for (let x = x0; x < x1; x++) {
        if (!warning.at(watched, y * width + x)) continue;
        const along = [x + y, x - y + height, x, y, x ^ y][i]!;
        const at = 4 * ((y - y0) * TILE + x - x0);
        out.fill((along >> (1 + halvings)) & 1 ? 255 : 0, at, at + 3);
        out[at + 3] = 255;
      }
  });
  return out;
}
