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
  /** The same in the tile kernel, where it is whole and unlimited. */
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
    const whole = amount === 1 && !limit && !plain && correction.works === 'pixel';
    return [{ correction, values, amount, limit, kernel: whole ? correction.kernel?.(values) : undefined }];
  });

/** From a to b, exact at both ends. */
export const mixed = (a: number, b: number, share: number): number =>
  share <= 0 ? a : share >= 1 ? b : a * (1 - share) + b * share;

const PLANES = ['r', 'g', 'b'] as const;
type Planes = Pick<PixelRun, (typeof PLANES)[number]>;

/**
 * Lets a step's result count as much as its amount and limit say, pixel by pixel: `now` is written. A pixel that was no
 * finite colour stays as it was, and no result is anything else.
 * @param at where each pixel is in the picture `source`, by which limits go
 */
export function settle(
  { amount, limit }: Pick<Step, 'amount' | 'limit'>,
  before: Planes,
  now: Planes,
  count: number,
  at: Uint32Array,
  source: RgbPlanes,
): void {
  for (let i = 0; i < count; i++) {
    const keep = !finite(before.r[i]!, before.g[i]!, before.b[i]!);
    const p = at[i]!;
    const share = keep ? 0 : limit ? amount * limit(source.r[p]!, source.g[p]!, source.b[p]!) : amount;
    for (const k of PLANES) {
      const [was, is] = [before[k][i]!, now[k][i]!];
      now[k][i] = Number.isNaN(is) ? was : mixed(was, Math.min(MOST, Math.max(-MOST, is)), share);
      if (keep) now[k][i] = was;
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
