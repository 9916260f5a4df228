import { through } from '../colour/matrix.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, tileBounds } from '../planes/tiles.ts';
import type { Region } from './region.ts';
import type { Counts } from './scope.ts';

const STEPS = 8192;
/** As bright as this is the end of the curve's table. */
const MOST = 4;
const { abs, ceil, max, min, sqrt } = Math;
let curve: Float32Array | undefined;

/** How bright sRGB shows a scene-linear value, without a clamp at white; by a table over its square root. */
export function shownAs(v: number): number {
  curve ??= Float32Array.from({ length: STEPS + 2 }, (_, i) => linearToSrgb(MOST * (i / STEPS) ** 2));
  if (!(v > 0)) return v < 0 ? 12.92 * v : 0;
  if (v >= MOST) return linearToSrgb(v);
  const x = sqrt(v / MOST) * STEPS;
  const i = x | 0;
  return curve[i]! + (curve[i + 1]! - curve[i]!) * (x - i);
}

/** Scopes of brightness run a little beyond black and white. */
const [FROM, TO] = [-0.05, 1.15];

/** In which of so many cells from dark to bright a value lies; beyond the ends, in the last one. */
export function brightCell(v: number, cells: number): number {
  const i = ((shownAs(v) - FROM) / (TO - FROM)) * cells;
  return i > 0 ? (i < cells ? i | 0 : cells - 1) : 0;
}

/** Finite pixels of a region, some thousand at a time: loops over them are short and run fast. */
export interface Colours {
  n: number;
  /** In the primaries of the screen, scene-linear. */
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** For how many pixels each stands. */
  counts: Float32Array;
  /** Where it is, y * width + x. */
  at: Int32Array;
}

const CHUNK = 4096;
const RUN = 8;

/**
 * Calls `use` with all pixels of a region, chunk by chunk.
 * @param most of more pixels than so many, one in k by k stands for the others: the same ones whenever it is asked, and
 * none of a regular pattern
 */
export function eachColours(
  picture: RgbPlanes,
  region: Region,
  most: number,
  use: (colours: Colours) => void,
): void {
  const { width, height, r, g, b, toScreen } = picture;
  const out: Colours = {
    n: 0,
    r: new Float32Array(CHUNK),
    g: new Float32Array(CHUNK),
    b: new Float32Array(CHUNK),
    counts: new Float32Array(CHUNK),
    at: new Int32Array(CHUNK),
  };
  const flush = () => {
    if (out.n === 0) return;
    if (toScreen)
      for (let i = 0; i < out.n; i++)
        [out.r[i], out.g[i], out.b[i]] = through(toScreen, [out.r[i]!, out.g[i]!, out.b[i]!]) as [
          number,
          number,
          number,
        ];
    use(out);
    out.n = 0;
  };
  const areas = areasOf(region, width, height);
  const pixels = areas.reduce((sum, { x0, y0, x1, y1 }) => sum + (x1 - x0) * (y1 - y0), 0);
  // A run in each block of k rows and k runs: memory comes in lines of some pixels, and a line costs as much as one.
  const k = max(1, ceil(sqrt(pixels / most)));
  const block = k > 1 ? k * RUN : Infinity;
  for (const { x0, y0, x1, y1, cover } of areas)
    for (let top = y0; top < y1; top += k)
      for (let left = x0; left < x1; left += block) {
        let [from, y] = [left, top];
        let to = x1;
        if (k > 1) {
          // Any mixing of the two does: Knuth's multiplicative hashing.
          const any = (Math.imul(left, 0x9e3779b1) ^ Math.imul(top, 0x85ebca6b)) >>> 8;
          from += RUN * (any % k);
          y += (any >>> 8) % k;
          to = min(x1, from + RUN);
          if (y >= y1) continue;
        }
        for (let x = from; x < to; x++) {
          const counts = cover ? cover[(y - y0) * TILE + x - x0]! : 1;
          if (!(counts > 0)) continue;
          const p = y * width + x;
          const u = r[p]!;
          const v = g[p]!;
          const w = b[p]!;
          // One look tells of all three: what is not finite makes the sum so.
          if (!(abs(u + v + w) < Infinity)) continue;
          const i = out.n++;
          out.r[i] = u;
          out.g[i] = v;
          out.b[i] = w;
          out.counts[i] = counts * k * k;
          out.at[i] = p;
          if (out.n === CHUNK) flush();
        }
      }
  flush();
}

/** The rectangles that a region consists of, each with its coverage if it is a tile of a mask. */
function areasOf(
  region: Region,
  width: number,
  height: number,
): { x0: number; y0: number; x1: number; y1: number; cover?: Float32Array }[] {
  if (region.of === 'mask') {
    const { mask } = region;
    return Array.from({ length: mask.tileCount }, (_, t) => t).flatMap((t) => {
      const cover = mask.tile(t);
      return cover ? [{ ...tileBounds(t, mask.tilesX, width, height), cover }] : [];
    });
  }
  const { x0, y0, x1, y1 } = region.of === 'area' ? region.area : { x0: 0, y0: 0, x1: width, y1: height };
  return [{ x0: max(0, x0), y0: max(0, y0), x1: min(width, x1), y1: min(height, y1) }];
}

/** Counts colours in the cells of a square, by where each lies from the left and from the top, 0 to 1; beyond it at its rim. */
export function countInSquare(
  picture: RgbPlanes,
  region: Region,
  most: number,
  side: number,
  place: (r: number, g: number, b: number, out: Place) => void,
): Counts {
  const plane = new Float32Array(side * side);
  const to: Place = { x: 0, y: 0 };
  eachColours(picture, region, most, ({ n, r, g, b, counts }) => {
    for (let i = 0; i < n; i++) {
      place(r[i]!, g[i]!, b[i]!, to);
      const x = min(side - 1, max(0, (to.x * side) | 0));
      const y = min(side - 1, max(0, (to.y * side) | 0));
      plane[y * side + x]! += counts[i]!;
    }
  });
  return { width: side, height: side, planes: [plane] };
}

/** From the left and from the top, 0 to 1. */
export interface Place {
  x: number;
  y: number;
}

/** Where a single colour lies. */
export function placeOfOne(
  place: (r: number, g: number, b: number, out: Place) => void,
  [r, g, b]: readonly [number, number, number],
): [x: number, y: number] {
  const to: Place = { x: 0, y: 0 };
  place(r, g, b, to);
  return [to.x, to.y];
}
