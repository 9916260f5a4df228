/** Colours of a picture as whole numbers, 8 bits each: red << 16 | green << 8 | blue. */
export type Keys = Int32Array;

const { abs, max, min, round } = Math;
const byte = (v: number) => (v > 0 ? min(255, round(255 * v)) : 0);

/** Colours of three planes of values 0 to 1. */
export function keysOf([r, g, b]: readonly Float32Array[]): Keys {
  const keys = new Int32Array(r!.length);
  for (let p = 0; p < keys.length; p++) keys[p] = (byte(r![p]!) << 16) | (byte(g![p]!) << 8) | byte(b![p]!);
  return keys;
}

export const hexOf = (key: number): string => `#${key.toString(16).padStart(6, '0')}`;

/** The largest difference of red, green and blue, in steps of 255. */
export const apart = (a: number, b: number): number =>
  max(abs((a >> 16) - (b >> 16)), abs(((a >> 8) & 255) - ((b >> 8) & 255)), abs((a & 255) - (b & 255)));

/** Fewest pixels inside of one colour that make it one of the palette. */
const LEAST_PIXELS = 30;
/** More colours than this are no flat colours. */
export const MOST_COLOURS = 4096;

/**
 * The colours that things have: those of places that are flat, where the 3x3 around a pixel is all the same (within
 * `tolerance`, for files that were packed with loss), in at least 30 pixels. The most frequent come first.
 */
export function paletteOf(keys: Keys, width: number, tolerance = 0): number[] {
  const counts = new Map<number, number>();
  const height = keys.length / width;
  const flat = (p: number, key: number) => {
    for (const row of [p - width, p, p + width])
      for (let q = row - 1; q <= row + 1; q++)
        if (tolerance === 0 ? keys[q] !== key : apart(keys[q]!, key) > tolerance) return false;
    return true;
  };
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      if (flat(p, keys[p]!)) counts.set(keys[p]!, (counts.get(keys[p]!) ?? 0) + 1);
    }
  const sorted = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  if (tolerance === 0) return sorted.filter(([, n]) => n >= LEAST_PIXELS).map(([key]) => key);
  // With loss, a colour is many that are nearly the same: the most frequent one stands for them all.
  const palette: { key: number; pixels: number }[] = [];
  for (const [key, n] of sorted) {
    const near = palette.find((c) => apart(c.key, key) <= 4 * tolerance);
    if (near) near.pixels += n;
    else if (palette.length < MOST_COLOURS) palette.push({ key, pixels: n });
  }
  return palette.filter((c) => c.pixels >= 4 * LEAST_PIXELS).map((c) => c.key);
}

/** Which colour of the palette is next to each pixel's, and which pixels surely are of it. */
export interface Labels {
  /** Place in the palette. */
  of: Uint16Array;
  /** 1 where the pixel is nothing but that. */
  pure: Uint8Array;
}

/**
 * Gives every pixel the nearest colour of the palette. A pixel is pure if it is that colour (within `tolerance` steps)
 * and one beside it is labelled the same: one that only chances to be it among others is a mixture.
 */
export function labelPixels(
  keys: Keys,
  width: number,
  palette: readonly number[],
  tolerance: number,
  allocate: (bytes: number) => ArrayBufferLike,
): Labels {
  const nearest = new Map<number, { label: number; off: number }>();
  const of = new Uint16Array(allocate(2 * keys.length));
  const close = new Uint8Array(keys.length);
  for (let p = 0; p < keys.length; p++) {
    const key = keys[p]!;
    let found = nearest.get(key);
    if (!found) {
      found = { label: 0, off: Infinity };
      for (let label = 0; label < palette.length && found.off > 0; label++) {
        const off = apart(key, palette[label]!);
        if (off < found.off) found = { label, off };
      }
      nearest.set(key, found);
    }
    of[p] = found.label;
    close[p] = found.off <= tolerance ? 1 : 0;
  }
  const pure = new Uint8Array(allocate(keys.length));
  const height = keys.length / width;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (!close[p]) continue;
      const label = of[p];
      for (let v = max(0, y - 1); v <= y + 1 && v < height && !pure[p]; v++)
        for (let u = max(0, x - 1); u <= x + 1 && u < width; u++) {
          const q = v * width + u;
          if (q !== p && of[q] === label) {
            pure[p] = 1;
            break;
          }
        }
    }
  return { of, pure };
}
