import { rgbToOklab, type Triple } from './oklab.ts';
import { srgbToLinear } from './srgb.ts';

/** Fewer pixels of one colour than this share of the picture are an edge or a letter. */
const LEAST = 0.004;
/** Closer than this in Oklab two areas are one colour; about twice what is just seen. */
const ONE = 0.035;
/** Light of each byte. */
const LIGHT = Float64Array.from({ length: 256 }, (_, byte) => srgbToLinear(byte / 255));

/**
 * The colours of flat areas of a palette picture, scene-linear Rec. 709, in reading order: from the top, and in a row
 * from the left. Pixels are gathered in cells of 4 bits a channel; cells that are alike and large are a colour, whose
 * value is the mean of its pixels. What is transparent does not count.
 * @param data RGBA in sRGB, 8 bits each, row by row
 * @param most as many at most, the largest ones
 */
export function paletteOf(
  picture: { width: number; height: number; data: ArrayLike<number> },
  most: number,
): [number, number, number][] {
  const { width, height, data } = picture;
  const cells = new Map<number, { n: number; rgb: [number, number, number]; x: number; y: number }>();
  const alike = (a: number, b: number) => Math.abs(data[a]! - data[b]!) <= 3;
  const flat = (p: number, q: number) =>
    alike(4 * p, 4 * q) && alike(4 * p + 1, 4 * q + 1) && alike(4 * p + 2, 4 * q + 2);
  for (let y = 0; y + 1 < height; y++)
    for (let x = 0; x + 1 < width; x++) {
      const p = y * width + x;
      // Where it changes, colours are mixed.
      if (data[4 * p + 3]! < 250 || !flat(p, p + 1) || !flat(p, p + width)) continue;
      const key = (data[4 * p]! >> 4) * 256 + (data[4 * p + 1]! >> 4) * 16 + (data[4 * p + 2]! >> 4);
      let cell = cells.get(key);
      if (!cell) cells.set(key, (cell = { n: 0, rgb: [0, 0, 0], x: 0, y: 0 }));
      cell.n++;
      cell.x += x;
      cell.y += y;
      for (let k = 0; k < 3; k++) cell.rgb[k]! += LIGHT[data[4 * p + k]!]!;
    }
  const lab = (rgb: readonly number[], n: number): Triple => {
    const out: Triple = [0, 0, 0];
    rgbToOklab(rgb[0]! / n, rgb[1]! / n, rgb[2]! / n, out);
    return out;
  };
  const areas: { n: number; rgb: [number, number, number]; x: number; y: number }[] = [];
  for (const cell of [...cells.values()].sort((a, b) => b.n - a.n)) {
    const own = lab(cell.rgb, cell.n);
    const like = areas.find((a) => Math.hypot(...lab(a.rgb, a.n).map((v, k) => v - own[k]!)) < ONE);
    if (!like) {
      areas.push(cell);
      continue;
    }
    like.n += cell.n;
    like.x += cell.x;
    like.y += cell.y;
    for (let k = 0; k < 3; k++) like.rgb[k]! += cell.rgb[k]!;
  }
  // Areas whose middles are about as high stand in one row.
  const row = (a: { y: number; n: number }) => Math.round((a.y / a.n / height) * 12);
  return areas
    .filter((a) => a.n >= LEAST * width * height)
    .sort((a, b) => b.n - a.n)
    .slice(0, most)
    .sort((a, b) => row(a) - row(b) || a.x / a.n - b.x / b.n)
    .map(({ rgb, n }) => [rgb[0] / n, rgb[1] / n, rgb[2] / n]);
}
