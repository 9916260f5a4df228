import { three, type Three } from './figures.ts';

/**
 * How often light has met a part's own surface on its way, told by its colour. Light that went between two walls of brass
 * is brass twice: with another colour it is multiplied twice. So a factor k of a channel becomes k to the power of n, and n
 * follows from how far a pixel's colour has gone in the direction of the part's: chromaticities as logarithms, in which
 * one bounce more is one step more. What is less coloured than the part's mean has met it once, and something else besides.
 */
export interface Bounces {
  /** The part's mean colour as logarithms, their mean taken off, over the square of its length. */
  direction: Three;
  /** How far it can be told at all, 0 to 1: a grey part's light is grey after any number of bounces. */
  trust: number;
}

const { exp, floor, log, max, min } = Math;

/** Less light has no colour that could be told. */
const LEAST = 1e-6;
/** More are not told apart. */
const MOST = 4;
/** Of what the colour says: all of it would take coloured light from elsewhere for bounces. Best on the rendered pairs. */
const BELIEVED = 0.75;
/** Numbers of bounces that are told apart: factors between them are linear, so that means over a part stay exact. */
const STEP = 0.125;
const BINS = MOST / STEP + 1;

const away = ([r, g, b]: Three): Three => {
  const logs = three((k) => log(max([r, g, b][k]!, LEAST)));
  const middle = (logs[0] + logs[1] + logs[2]) / 3;
  return three((k) => logs[k]! - middle);
};

/** What tells the bounces of a part whose light has this mean. */
export function bouncesOf(mean: Three): Bounces {
  const base = away(mean);
  const square = base[0] ** 2 + base[1] ** 2 + base[2] ** 2;
  const t = min(1, max(0, (square - 0.2) / 0.5));
  return { direction: three((k) => base[k]! / max(square, 1e-9)), trust: t * t * (3 - 2 * t) };
}

/** How often light of a colour has met the part, from 1 to 1 + {@link MOST}. */
export function countOf({ direction, trust }: Bounces, r: number, g: number, b: number): number {
  if (trust === 0 || !(r + g + b > 0)) return 1;
  // The direction adds up to 0: the mean of the logarithms need not be taken off.
  const along =
    log(max(r, LEAST)) * direction[0] + log(max(g, LEAST)) * direction[1] + log(max(b, LEAST)) * direction[2];
  return 1 + BELIEVED * trust * min(MOST, max(0, along - 1));
}

/** Light of a part by its number of bounces: for each channel and number the share of the part's mean. */
export class BounceSums {
  readonly sums = new Float64Array(3 * BINS);
  private weight = 0;

  add(count: number, r: number, g: number, b: number, weight: number): void {
    const at = (count - 1) / STEP;
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
    const total = (logK: number) => own.reduce((sum, v, i) => sum + v * exp(logK * (1 + i * STEP)), 0);
    let [low, high] = [-16, 16];
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (total(middle) < wanted[k]!) low = middle;
      else high = middle;
    }
    const logK = wanted[k]! > 0 ? (low + high) / 2 : -Infinity;
    return own.map((_, i) => exp(logK * (1 + i * STEP)));
  });
  return (count, channel) => {
    const table = tables[channel]!;
    const at = (count - 1) / STEP;
    const bin = min(BINS - 2, floor(at));
    return table[bin]! + (table[bin + 1]! - table[bin]!) * (at - bin);
  };
}
