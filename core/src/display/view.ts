import { displayByte } from '../colour/srgb.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import { idColours } from './id-colours.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, TILE_PIXELS } from '../planes/tiles.ts';

/**
 * Tiles for the screen: RGBA bytes, TILE rows of TILE pixels. These are the plain ones; the picture itself is shown by
 * the tile kernel, which is held against {@link showColours}.
 */
export type TileBytes = Uint8ClampedArray<ArrayBuffer>;

const newBytes = (): TileBytes => new Uint8ClampedArray(4 * TILE_PIXELS);

/** Colours in the screen's own primaries; those that are already, as they are. */
export function onScreen(planes: RgbPlanes): RgbPlanes {
  const { toScreen, r, g, b, ...size } = planes;
  if (!toScreen) return planes;
  const out = [0, 1, 2].map((k) => {
    const [x, y, z] = toScreen[k] as [number, number, number];
    return r.map((v, i) => x * v + y * g[i]! + z * b[i]!);
  });
  return { ...size, r: out[0]!, g: out[1]!, b: out[2]! };
}

/** Linear to sRGB, 8 bits, so many stops brighter; alpha 255. */
export function showColours(
  { r, g, b }: { r: Float32Array; g: Float32Array; b: Float32Array },
  stops: number,
): TileBytes {
  const out = newBytes();
  const gain = 2 ** stops;
  for (let p = 0, at = 0; p < TILE_PIXELS; p++, at += 4) {
    out[at] = displayByte(r[p]! * gain);
    out[at + 1] = displayByte(g[p]! * gain);
    out[at + 2] = displayByte(b[p]! * gain);
    out[at + 3] = 255;
  }
  return out;
}

/** A mask as grey levels; coverage is data, so no transfer curve is applied. */
export function showMask(cover: Float32Array | undefined): TileBytes {
  const out = newBytes();
  for (let p = 0, at = 0; p < TILE_PIXELS; p++, at += 4) {
    out[at] = out[at + 1] = out[at + 2] = 255 * (cover?.[p] ?? 0);
    out[at + 3] = 255;
  }
  return out;
}

/** What a cut-out lies on: a grey level, or two of them in a chequer. */
export type CutOutGround = 'chequers' | 'black' | 'grey' | 'white' | 'picture';
const LEVELS: Record<CutOutGround, readonly [number, number]> = {
  chequers: [108, 92],
  black: [0, 0],
  grey: [118, 118],
  white: [255, 255],
  picture: [108, 92],
};

/**
 * What the mask covers of a shown tile, on a ground.
 * @param under RGBA of a picture that lies under it there, if there is one: its rows are `stride` bytes apart
 */
export function showCutOut(
  shown: Uint8Array | Uint8ClampedArray,
  cover: Float32Array | undefined,
  ground: CutOutGround = 'chequers',
  under?: { data: Uint8ClampedArray; from: number; stride: number; across: number },
): TileBytes {
  const out = newBytes();
  const levels = LEVELS[ground];
  for (let p = 0, at = 0; p < TILE_PIXELS; p++, at += 4) {
    const c = Math.min(1, cover?.[p] ?? 0);
    // Tiles are a whole number of squares, so that the pattern runs on.
    const level = levels[(((p & 63) >> 3) + (p >> 9)) & 1]!;
    const below = under && (p & 63) < under.across ? under.from + (p >> 6) * under.stride + 4 * (p & 63) : -1;
    for (let k = 0; k < 3; k++)
      out[at + k] = shown[at + k]! * c + (below < 0 ? level : (under!.data[below + k] ?? level)) * (1 - c);
    out[at + 3] = 255;
  }
  return out;
}

/** Black over what the mask does not cover, with `opacity` of 255. */
export function showDimming(cover: Float32Array | undefined, opacity: number): TileBytes {
  const out = newBytes();
  for (let p = 0, at = 3; p < TILE_PIXELS; p++, at += 4)
    out[at] = opacity * (1 - Math.min(1, cover?.[p] ?? 0));
  return out;
}

/** Every ID in its colour, mixed by coverage, so that soft edges can be seen for what they are. */
export function showIds(index: IdIndex, tile: number): TileBytes {
  const { width, height, tilesX, rowStart, slot, pixel, length, coverage } = index;
  const x0 = (tile % tilesX) * TILE;
  const y0 = Math.floor(tile / tilesX) * TILE;
  const sums = new Float32Array(3 * TILE_PIXELS);
  const colours = idColours(index);
  for (let y = y0; y < Math.min(height, y0 + TILE); y++) {
    const from = y * width + x0;
    const to = y * width + Math.min(width, x0 + TILE);
    for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
      const p0 = Math.max(from, pixel[i]!);
      const p1 = Math.min(to, pixel[i]! + length[i]!);
      if (p0 >= p1) continue;
      const s = slot[i]!;
      const colour = colours[s]!;
      const c = coverage[i]!;
      for (let p = p0; p < p1; p++) {
        const at = 3 * ((y - y0) * TILE + p - from);
        sums[at]! += c * colour[0];
        sums[at + 1]! += c * colour[1];
        sums[at + 2]! += c * colour[2];
      }
    }
  }
  const out = newBytes();
  for (let p = 0; p < TILE_PIXELS; p++) {
    for (let k = 0; k < 3; k++) out[4 * p + k] = sums[3 * p + k]!;
    out[4 * p + 3] = 255;
  }
  return out;
}
