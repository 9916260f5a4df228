import type { Correction, Passes, PixelRun } from '../corrections/correction.ts';
import { limitOf, type Limit } from '../corrections/limit.ts';
import { amountOf } from '../fields/amount.ts';
import type { FieldValue } from '../fields/field.ts';
import type { KernelStep } from '../kernels/tile.ts';
import { finite, MOST } from '../planes/finite.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { StackLayer } from './stack-input.ts';

/** One correction of a change, ready to be applied, with what every correction has. */
export interface Step {
  correction: Correction;
  values: Record<string, FieldValue>;
  /** How much of it there is, 0 to 1. */
  amount: number;
  limit: Limit | undefined;
  /** The same in the tile kernel, where it is not limited. */
  kernel: KernelStep | undefined;
}

export const stepsOf = (
  uses: StackLayer['steps'],
  find: (kind: string) => Correction | undefined,
  plain: boolean,
): Step[] =>
  uses.flatMap(({ kind, values }): Step[] => {
    const correction = find(kind);
    if (!correction) return [];
    const [amount, limit] = [amountOf(values), limitOf(values)];
    const unlimited = !limit && !plain && correction.works === 'pixel';
    return [
      { correction, values, amount, limit, kernel: unlimited ? correction.kernel?.(values) : undefined },
    ];
  });

/** From a to b, exact at both ends. */
export const mixed = (a: number, b: number, share: number): number =>
  share <= 0 ? a : share >= 1 ? b : a * (1 - share) + b * share;

type Planes = Pick<PixelRun, 'r' | 'g' | 'b'>;

/** A result that is a finite number of 32 bits; what is no number stays what it was. */
const held = (v: number, was: number): number => (v > MOST ? MOST : v < -MOST ? -MOST : v === v ? v : was);

/**
 * Lets a step's result count as much as its amount and limit say, pixel by pixel: `now` is written. A pixel that was no
 * finite colour stays as it was, and no result is anything else.
 * @param at where each pixel is in the picture `source`, by which limits go; needed only for those
 */
export function settle(
  { amount, limit }: Pick<Step, 'amount' | 'limit'>,
  before: Planes,
  now: Planes,
  count: number,
  at: Uint32Array | undefined,
  source: RgbPlanes,
): void {
  const { r, g, b } = now;
  const { r: r0, g: g0, b: b0 } = before;
  for (let i = 0; i < count; i++) {
    const x = r0[i]!;
    const y = g0[i]!;
    const z = b0[i]!;
    let share = amount;
    if (limit) {
      const p = at![i]!;
      share *= limit(source.r[p]!, source.g[p]!, source.b[p]!);
    }
    if (share <= 0 || !finite(x, y, z)) {
      r[i] = x;
      g[i] = y;
      b[i] = z;
    } else if (share >= 1) {
      r[i] = held(r[i]!, x);
      g[i] = held(g[i]!, y);
      b[i] = held(b[i]!, z);
    } else {
      const rest = 1 - share;
      r[i] = x * rest + held(r[i]!, x) * share;
      g[i] = y * rest + held(g[i]!, y) * share;
      b[i] = z * rest + held(b[i]!, z) * share;
    }
  }
}

/** Applies a pixel correction to pixels at full coverage, in place. */
export function applyPixelStep(
  step: Step,
  planes: Planes,
  count: number,
  at: Uint32Array,
  source: RgbPlanes,
  passes: Passes,
): void {
  const { correction, values } = step;
  if (correction.works !== 'pixel') return;
  const before = {
    r: planes.r.slice(0, count),
    g: planes.g.slice(0, count),
    b: planes.b.slice(0, count),
  };
  correction.apply({ ...planes, count, at, passes }, values);
  settle(step, before, planes, count, at, source);
}
