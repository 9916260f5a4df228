import type { PartColours } from '../correction.ts';
import { quantile, three, type Three } from './figures.ts';

/**
 * How often light of a pixel has met a part's own surface on its way, told by its colour. Light that went between two
 * walls of brass is brass twice: with another colour it is multiplied twice. So a factor k of a channel becomes k to the
 * power of n. In logarithms of chromaticity one bounce more is one step more in the direction of the part's colour; but
 * light that is warmer or cooler moves a pixel, too, along the line of black bodies and daylight. What lies across that
 * line is the part's (the invariant of Finlayson, Drew and Lu, "Intrinsic images by entropy minimization", 2004), so that n
 * is how far a pixel lies across, counted in what is usual for the part. Nothing is told of a part that itself has a colour
 * of lamps, as linen has.
 */
export interface Bounces {
  /** By which a colour's logarithms are multiplied and added up: 1 for the part's usual colour. */
  direction: Three;
  /** How far it can be told at all, 0 to 1. */
  trust: number;
  /** Where the usual colour lies along the line of lights. */
  light: number;
  /** Metal has no light of its own: what it mirrors may have any colour, and at a grazing angle it mirrors white. */
  metal: boolean;
}

const { exp, floor, log, max, min } = Math;

/** Less light has no colour that could be told. */
const LEAST = 1e-6;
/** More are not told apart. */
const MOST = 5;
/** Numbers of bounces that are told apart: factors between them are linear, so that means over a part stay exact. */
const STEP = 0.125;
const BINS = MOST / STEP + 1;

/**
 * The line of lights in logarithms of chromaticity, as a unit: from 2800 to 10000 K (black bodies, then CIE daylight) the
 * way to 6500 K has this direction within 4 degrees, in Rec. 709.
 */
const LIGHTS: Three = [0.664, 0.083, -0.743];
/** So many times more a light's colour varies along the line than across; little changes from 4 to 8. */
const LONGER = 5;
/** Squares of the distances across the line from which on bounces are told, and from which on surely. */
const [APART, CLEAR] = [0.003, 0.009];
/** What metal mirrors is coloured itself: so much more than one bounce, and so much less, is taken for that. */
const [MORE, LESS] = [0.3, 0.1];
/** So far along the line of lights a less coloured pixel mirrors something coloured, and no edge. */
const ELSEWHERE = 0.2;

const dot = (a: Three, b: Three) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** A colour's chromaticity: natural logarithms of its channels, their mean taken off. */
export const away = (c: Three): Three => {
  const logs = three((k) => log(max(c[k]!, LEAST)));
  const middle = (logs[0] + logs[1] + logs[2]) / 3;
  return three((k) => logs[k]! - middle);
};
const smooth = (t: number) => {
  const k = min(1, max(0, t));
  return k * k * (3 - 2 * k);
};

/** A part's usual colour: the median of its chromaticities, of whatever brightness. Of a part without light it is grey. */
export function usualColour(part: Pick<PartColours, 'count' | 'r' | 'g' | 'b'>): Three {
  const lit = Array.from({ length: part.count }, (_, i) => i).filter(
    (i) => min(part.r[i]!, part.g[i]!, part.b[i]!) > LEAST,
  );
  const ofGreen = (plane: Float32Array) =>
    lit.length
      ? quantile(
          Float32Array.from(lit, (i) => plane[i]! / part.g[i]!),
          0.5,
        )
      : 1;
  return [ofGreen(part.r), 1, ofGreen(part.b)];
}

/** What tells the bounces of a part of this usual colour. */
export function bouncesOf(usual: Three, metal: boolean): Bounces {
  const own = away(usual);
  const light = dot(own, LIGHTS);
  const across = three((k) => own[k]! - light * LIGHTS[k]! * (1 - 1 / LONGER ** 2));
  const square = dot(across, own);
  return {
    direction: three((k) => across[k]! / max(square, 1e-9)),
    trust: smooth((dot(own, own) - light ** 2 - APART) / (CLEAR - APART)),
    light,
    metal,
  };
}

/** How often light of a colour has met the part, 0 to {@link MOST}; paint is met once at least. */
export function countOf(
  { direction, trust, light, metal }: Bounces,
  r: number,
  g: number,
  b: number,
): number {
  if (trust === 0 || !(r + g + b > 0)) return 1;
  // Directions add up to 0: the mean of the logarithms need not be taken off.
  const logs: Three = [log(max(r, LEAST)), log(max(g, LEAST)), log(max(b, LEAST))];
  const beyond = dot(logs, direction) - 1;
  if (!metal) return 1 + trust * min(MOST - 1, max(0, beyond));
  if (beyond > 0) return 1 + trust * min(MOST - 1, max(0, beyond - MORE));
  const moved = (dot(logs, LIGHTS) - light) / ELSEWHERE;
  return max(0, 1 + trust * min(0, beyond + LESS) * exp(-moved * moved));
}

/** Light of a part by its number of bounces: for each channel and number the share of the part's mean. */
export class BounceSums {
  readonly sums = new Float64Array(3 * BINS);
  private weight = 0;

  add(count: number, r: number, g: number, b: number, weight: number): void {
    const at = count / STEP;
    const bin = min(BINS - 2, floor(at));
    for (let k = 0; k < 3; k++) {
      const light = weight * (k === 0 ? r : k === 1 ? g : b);
      this.sums[k * BINS + bin]! += light * (1 - (at - bin));
      this.sums[k * BINS + bin + 1]! += light * (at - bin);
    }
    this.weight += weight;
  }
  means(): number[] {
    return Array.from(this.sums, (v) => (this.weight > 0 ? v / this.weight : 0));
  }
}

/** Factors of the three channels by the number of bounces, by which a part's mean becomes what is wanted. */
export function factorsFor(
  means: readonly number[],
  wanted: Three,
): (count: number, channel: number) => number {
  const tables = [0, 1, 2].map((k) => {
    const own = means.slice(k * BINS, (k + 1) * BINS);
    const total = (logK: number) => own.reduce((sum, v, i) => sum + v * exp(logK * i * STEP), 0);
    let [low, high] = [-16, 16];
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (total(middle) < wanted[k]!) low = middle;
      else high = middle;
    }
    const logK = wanted[k]! > 0 ? (low + high) / 2 : -Infinity;
    return own.map((_, i) => exp(logK * i * STEP));
  });
  return (count, channel) => {
    const table = tables[channel]!;
    const at = count / STEP;
    const bin = min(BINS - 2, floor(at));
    return table[bin]! + (table[bin + 1]! - table[bin]!) * (at - bin);
  };
}
