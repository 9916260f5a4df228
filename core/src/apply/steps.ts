import type { Correction, PartFigures, Passes, PixelRun } from '../corrections/correction.ts';
import { limitOf, limitSettings, type Limit } from '../corrections/limit.ts';
import { amountOf } from '../fields/amount.ts';
import type { FieldValue } from '../fields/field.ts';
import type { ProgramStep } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { mixPlain } from '../planes/mixing.ts';
import type { StackLayer } from './stack-input.ts';

/** One correction of a change, ready to be applied, with what every correction has. */
export interface Step {
  correction: Correction;
  values: Record<string, FieldValue>;
  /** How much of it there is, 0 to 1. */
  amount: number;
  limit: Limit | undefined;
  /** The same in the tile kernel, where that has a step for it. */
  kernel: ProgramStep | undefined;
  measured: PartFigures | undefined;
}

export const stepsOf = (
  uses: StackLayer['steps'],
  find: (kind: string) => Correction | undefined,
  plain: boolean,
): Step[] =>
  uses.flatMap(({ kind, values, measured }): Step[] => {
    const correction = find(kind);
    if (!correction) return [];
    const amount = amountOf(values);
    const own = !plain && correction.works === 'pixel' ? correction.kernel?.(values) : undefined;
    const kernel = own && { kernel: own, amount, limit: limitSettings(values) };
    return [{ correction, values, amount, limit: limitOf(values), kernel, measured }];
  });

type Planes = Pick<PixelRun, 'r' | 'g' | 'b'>;

/** How a step's result is mixed in: the kernel's way, or the plain one that it is tested against. */
export type Mix = typeof mixPlain;

/**
 * How much of a step's result counts where there is a limit, pixel by pixel; undefined where it counts the same
 * everywhere.
 * @param at where each pixel is in the picture `source`, by which limits go; asked for only where there is one
 */
export function sharesOf(
  { limit }: Pick<Step, 'limit'>,
  at: () => Uint32Array,
  count: number,
  source: RgbPlanes,
): Float32Array | undefined {
  if (!limit) return undefined;
  const places = at();
  const shares = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const p = places[i]!;
    shares[i] = limit(source.r[p]!, source.g[p]!, source.b[p]!);
  }
  return shares;
}

/**
 * Applies a pixel correction to pixels at full coverage, in place. `at` is asked for only where it is needed.
 * @param limits what limits go by, if it is not the picture at these places
 */
export function applyPixelStep(
  step: Step,
  planes: Planes,
  count: number,
  at: () => Uint32Array,
  source: RgbPlanes,
  passes: Passes,
  mix: Mix,
  limits: { at: () => Uint32Array; source: RgbPlanes } = { at, source },
): void {
  const { correction, values, amount } = step;
  if (correction.works !== 'pixel') return;
  const before = {
    r: planes.r.slice(0, count),
    g: planes.g.slice(0, count),
    b: planes.b.slice(0, count),
  };
  const run: PixelRun = {
    ...planes,
    count,
    get at() {
      return at();
    },
    rendered: source,
    passes,
  };
  correction.apply(run, values, step.measured);
  mix(before, planes, count, amount, sharesOf(step, limits.at, count, limits.source));
}
