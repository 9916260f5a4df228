import { MOST, finite } from './finite.ts';
import type { RgbPlanes } from './rgb-planes.ts';

/** From a to b, exact at both ends. */
export const mixed = (a: number, b: number, share: number): number =>
  share <= 0 ? a : share >= 1 ? b : a * (1 - share) + b * share;

/** A result that is a finite number of 32 bits; what is no number stays what it was. */
export const held = (v: number, was: number): number =>
  v > MOST ? MOST : v < -MOST ? -MOST : v === v ? v : was;

type Colours = Pick<RgbPlanes, 'r' | 'g' | 'b'>;

/**
 * Lets a result count as much as `amount` times each pixel's share says, 0 to 1: `now` is written. A pixel that was no
 * finite colour stays as it was, bit for bit, and so does one with no share; no result is anything but finite.
 * @param shares by default 1 everywhere
 */
export function mixPlain(
  before: Colours,
  now: Colours,
  count: number,
  amount: number,
  shares?: Float32Array,
): void {
  for (let i = 0; i < count; i++) {
    const share = amount * (shares ? shares[i]! : 1);
    const counts = finite(before.r[i]!, before.g[i]!, before.b[i]!);
    for (const k of ['r', 'g', 'b'] as const) {
      const was = before[k][i]!;
      now[k][i] = counts ? mixed(was, held(now[k][i]!, was), share) : was;
    }
  }
}
