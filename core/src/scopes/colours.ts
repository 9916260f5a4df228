import { through } from '../colour/matrix.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { eachIn, type Region } from './region.ts';
import type { Counts } from './scope.ts';

const STEPS = 8192;
/** As bright as this is the end of the curve's table. */
const MOST = 4;
let curve: Float32Array | undefined;

/** How bright sRGB shows a scene-linear value, without a clamp at white; by a table over its square root. */
export function shownAs(v: number): number {
  curve ??= Float32Array.from({ length: STEPS + 2 }, (_, i) => linearToSrgb(MOST * (i / STEPS) ** 2));
  if (!(v > 0)) return v < 0 ? 12.92 * v : 0;
  if (v >= MOST) return linearToSrgb(v);
  const x = Math.sqrt(v / MOST) * STEPS;
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

/** Calls `use` for each finite pixel of a region with its colour in the primaries of the screen. */
export function eachColour(
  picture: RgbPlanes,
  region: Region,
  use: (r: number, g: number, b: number, counts: number, at: number) => void,
): void {
  const { r, g, b, toScreen } = picture;
  eachIn(region, picture, (counts, at) => {
    const [x, y, z] = [r[at]!, g[at]!, b[at]!];
    // One look tells of all three: what is not finite makes the sum so.
    if (!(Math.abs(x + y + z) < Infinity)) return;
    if (toScreen) {
      const [u, v, w] = through(toScreen, [x, y, z]);
      use(u, v, w, counts, at);
    } else use(x, y, z, counts, at);
  });
}

const { min, max } = Math;

/** Counts colours in the cells of a square, by where each lies from the left and from the top, 0 to 1; beyond it at its rim. */
export function countInSquare(
  picture: RgbPlanes,
  region: Region,
  side: number,
  place: (r: number, g: number, b: number) => readonly [x: number, y: number],
): Counts {
  const plane = new Float32Array(side * side);
  eachColour(picture, region, (r, g, b, counts) => {
    const [u, v] = place(r, g, b);
    const x = min(side - 1, max(0, (u * side) | 0));
    const y = min(side - 1, max(0, (v * side) | 0));
    plane[y * side + x]! += counts;
  });
  return { width: side, height: side, planes: [plane] };
}
