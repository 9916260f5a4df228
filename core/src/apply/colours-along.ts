import { through } from '../colour/matrix.ts';
import { rgbToOklab, sureOfHue, type Triple } from '../colour/oklab.ts';
import { luminance } from '../colour/luminance.ts';
import { linearToSrgb } from '../colour/srgb.ts';
import { eachUnder } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import { finite } from '../planes/finite.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

/** Along what colours are spread, from 0 to 1: how bright they are on the screen, their hue, their lightness. */
export type Axis = 'light' | 'hue' | 'lightness';

/** One piece of an axis: how much of the part lies there, of the fullest piece, and its mean scene-linear colour. */
export interface Spread {
  share: number;
  colour: [number, number, number];
}

/**
 * How the colours under a mask are spread along an axis, in so many pieces of it, by coverage.
 * @param channel of which brightness is meant; by default luminance
 */
export function coloursAlong(
  picture: RgbPlanes,
  mask: TileMask,
  axis: Axis,
  channel: 'red' | 'green' | 'blue' | undefined,
  pieces: number,
): Spread[] {
  const { toScreen } = picture;
  const sums = new Float64Array(4 * pieces);
  const lab: Triple = [0, 0, 0];
  const place = (r: number, g: number, b: number): [at: number, counts: number] => {
    if (axis === 'light') {
      const v = channel === 'red' ? r : channel === 'green' ? g : channel === 'blue' ? b : luminance(r, g, b);
      return [linearToSrgb(v), 1];
    }
    rgbToOklab(r, g, b, lab);
    if (axis === 'lightness') return [lab[0], 1];
    const sure = lab[0] > 1e-6 ? sureOfHue(Math.hypot(lab[1], lab[2]) / lab[0]) : 0;
    return [(Math.atan2(lab[2], lab[1]) / (2 * Math.PI) + 1) % 1, sure];
  };
  eachUnder(mask, 0, (c, p) => {
    const own = [picture.r[p]!, picture.g[p]!, picture.b[p]!] as const;
    if (!finite(...own)) return;
    const [r, g, b] = toScreen ? through(toScreen, own) : own;
    const [at, counts] = place(r, g, b);
    const w = c * counts;
    const to = 4 * Math.min(pieces - 1, Math.max(0, Math.floor(at * pieces)));
    sums[to]! += w;
    sums[to + 1]! += w * r;
    sums[to + 2]! += w * g;
    sums[to + 3]! += w * b;
  });
  let most = 1e-9;
  for (let i = 0; i < pieces; i++) most = Math.max(most, sums[4 * i]!);
  return Array.from({ length: pieces }, (_, i): Spread => {
    const w = Math.max(sums[4 * i]!, 1e-12);
    return {
      share: sums[4 * i]! / most,
      colour: [sums[4 * i + 1]! / w, sums[4 * i + 2]! / w, sums[4 * i + 3]! / w],
    };
  });
}
