import { throughMatrix, type Matrix } from '../colour/matrix.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import type { ShowCurve, TileKernel } from '../kernels/tile.ts';
import { TILE_PIXELS } from '../planes/tiles.ts';
import { lookUp, type CubeTable } from './cube.ts';
import { DISPLAY_TRANSFORMS } from './transforms.ts';

/** How a picture is shown: it changes the screen, never the picture. */
export interface DisplayUse {
  /** View exposure. */
  stops: number;
  /** View gamma: what is shown, 0 to 1, to the power of 1 / gamma. */
  gamma: number;
  /** Name of a display transform. */
  transform: string;
  /** A look-up table in place of the transform. */
  table?: DisplayTable | undefined;
}

export interface DisplayTable extends CubeTable {
  /** What the table is made for: light, or what sRGB shows of it. */
  takes: 'linear' | 'srgb';
}

/** sRGB as it is. */
export const PLAIN_DISPLAY: DisplayUse = { stops: 0, gamma: 1, transform: 'srgb' };

const withGamma = (v: number, gamma: number) => (v > 0 ? v ** (1 / gamma) : 0);

/** One curve for each channel; undefined where a table of three dimensions mixes them. */
function curveOf({ gamma, transform, table }: DisplayUse): ShowCurve | undefined {
  if (table) return undefined;
  if (gamma === 1 && transform === 'srgb') return undefined;
  const { curve } = DISPLAY_TRANSFORMS.find((t) => t.name === transform) ?? DISPLAY_TRANSFORMS[0]!;
  return { key: `${transform} ${gamma}`, of: (v) => 255 * withGamma(curve(v), gamma) };
}

/** Makes a colour what it is on the screen, 0 to 1 each, clamped: the same as {@link showTile} to the nearest byte. */
export function shownColour(
  [r, g, b]: readonly [number, number, number],
  display: DisplayUse,
): [number, number, number] {
  const gain = 2 ** display.stops;
  const { table, gamma } = display;
  const clamped = (v: number) => Math.min(1, withGamma(v, gamma));
  if (!table) {
    const { curve } = DISPLAY_TRANSFORMS.find((t) => t.name === display.transform) ?? DISPLAY_TRANSFORMS[0]!;
    return [clamped(curve(r * gain)), clamped(curve(g * gain)), clamped(curve(b * gain))];
  }
  const taken = table.takes === 'srgb' ? linearToSrgb : (v: number) => v;
  const out = new Float32Array(3);
  lookUp(table, taken(r * gain), taken(g * gain), taken(b * gain), out);
  return [clamped(out[0]!), clamped(out[1]!), clamped(out[2]!)];
}

/** Makes bytes of the kernel's tile as it is to be shown; its planes may be changed by that. */
export function showTile(
  kernel: TileKernel,
  display: DisplayUse,
  toScreen?: readonly (readonly number[])[],
): void {
  if (!display.table) return kernel.show(display.stops, toScreen, curveOf(display));
  if (toScreen) throughMatrix(kernel, TILE_PIXELS, toScreen as Matrix);
  const { r, g, b, bytes } = kernel;
  for (let p = 0, at = 0; p < TILE_PIXELS; p++, at += 4) {
    const shown = shownColour([r[p]!, g[p]!, b[p]!], display);
    for (let k = 0; k < 3; k++) bytes[at + k] = Math.round(255 * shown[k]!);
    bytes[at + 3] = 255;
  }
}
