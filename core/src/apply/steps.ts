import type { Correction, PartFigures, Passes, PixelRun } from '../corrections/correction.ts';
import { inverse, through, throughMatrix, type Matrix } from '../colour/matrix.ts';
import { lightLimitOf, limitSettings, limitsOf, weighPixels, type Limits } from '../corrections/limit.ts';
import { shareOfPass } from '../corrections/pass-values.ts';
import { amountOf } from '../fields/amount.ts';
import type { ColourValue, FieldValue } from '../fields/field.ts';
import { matrixStep, type ProgramStep } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { mixPlain } from '../planes/mixing.ts';
import type { StackLayer } from './stack-input.ts';

/** One correction of a change, ready to be applied, with what every correction has. */
export interface Step {
  correction: Correction;
  values: Record<string, FieldValue>;
  /** How much of it there is, 0 to 1. */
  amount: number;
  limit: Limits | undefined;
  /** Light passes that it is limited to, if it is. */
  light: readonly string[];
  /** The same in the tile kernel, where that has steps for it. */
  kernel: readonly ProgramStep[] | undefined;
  measured: PartFigures | undefined;
  /** Where it works in Rec. 709 and the picture has other primaries: the ways there and back. */
  primaries: Primaries | undefined;
}

interface Primaries {
  there: Matrix;
  back: Matrix;
}

/** Values with their colours in other primaries. */
const coloursThrough = (
  fields: Correction['fields'],
  values: Record<string, FieldValue>,
  m: Matrix,
): Record<string, FieldValue> => ({
  ...values,
  ...Object.fromEntries(
    fields.flatMap(({ kind, key }) =>
      kind === 'colour' ? [[key, through(m, values[key] as ColourValue)]] : [],
    ),
  ),
});

/**
 * The corrections of a change, ready to be applied.
 * @param picture how its colours become Rec. 709, where they are not, and its white
 */
export function stepsOf(
  uses: StackLayer['steps'],
  find: (kind: string) => Correction | undefined,
  plain: boolean,
  picture: Pick<RgbPlanes, 'toScreen' | 'white'> = {},
): Step[] {
  const { toScreen } = picture;
  const primaries = toScreen && { there: toScreen as Matrix, back: inverse(toScreen as Matrix) };
  const whole = (kernel: ProgramStep['kernel']): ProgramStep => ({ kernel, amount: 1 });
  return uses.flatMap(({ kind, values: stored, measured }): Step[] => {
    const correction = find(kind);
    if (!correction) return [];
    const moved = correction.works === 'pixel' && correction.rec709 ? primaries : undefined;
    const values = primaries && !moved ? coloursThrough(correction.fields, stored, primaries.back) : stored;
    const [amount, limit] = [amountOf(values), limitsOf(values)];
    const light = lightLimitOf(values);
    const fast = !plain && correction.works === 'pixel' && !limit?.depth && light.length === 0;
    const own = fast ? correction.kernel?.(values, picture) : undefined;
    const step = own && { kernel: own, amount, limit: limitSettings(values) };
    const kernel =
      step && (moved ? [whole(matrixStep(moved.there)), step, whole(matrixStep(moved.back))] : [step]);
    return [{ correction, values, amount, limit, light, kernel, measured, primaries: moved }];
  });
}

type Planes = Pick<PixelRun, 'r' | 'g' | 'b'>;

/** How a step's result is mixed in: the kernel's way, or the plain one that it is tested against. */
export type Mix = typeof mixPlain;

/** What limits go by, pixel by pixel: the colours, and where these are in the other passes. */
export interface LimitedBy {
  at: () => Uint32Array;
  source: RgbPlanes;
  /** Places in the other passes, if they are others. */
  inPasses?: (() => Uint32Array) | undefined;
  passes: Passes;
}

/**
 * How much of a step's result counts where there is a limit, pixel by pixel; undefined where it counts the same
 * everywhere.
 */
export function sharesOf(
  { limit }: Pick<Step, 'limit'>,
  count: number,
  { at, source, inPasses = at, passes }: LimitedBy,
): Float32Array | undefined {
  if (!limit) return undefined;
  const [places, others] = [at(), inPasses()];
  const weigh = weighPixels(limit, source, passes);
  const shares = new Float32Array(count);
  for (let i = 0; i < count; i++) shares[i] = weigh(places[i]!, others[i]!);
  return shares;
}

/**
 * Where a step is limited to some of the light, leaves only that in the planes; what it returns adds the rest again:
 * C' = C + f(s C) - s C, with the share s that these passes have in the picture as rendered.
 */
function onlyLight(
  { light }: Pick<Step, 'light'>,
  planes: Planes,
  count: number,
  { at, rendered, passes }: PixelRun,
): (() => void) | undefined {
  if (light.length === 0) return undefined;
  const share = shareOfPass(
    rendered,
    light.map((name) => passes[name]!),
  );
  const rest = [planes.r, planes.g, planes.b].map((plane, k) => {
    const others = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      const own = plane[i]! * share(at[i]!, k);
      others[i] = plane[i]! - own;
      plane[i] = own;
    }
    return others;
  });
  return () =>
    [planes.r, planes.g, planes.b].forEach((plane, k) => {
      for (let i = 0; i < count; i++) plane[i]! += rest[k]![i]!;
    });
}

/**
 * Applies a pixel correction to pixels at full coverage, in place. `at` is asked for only where it is needed.
 * @param colours what limits go by, if it is not the picture at these places
 */
export function applyPixelStep(
  step: Step,
  planes: Planes,
  count: number,
  at: () => Uint32Array,
  source: RgbPlanes,
  passes: Passes,
  mix: Mix,
  colours?: Pick<LimitedBy, 'at' | 'source'>,
): void {
  const { correction, values, amount, primaries } = step;
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
  const light = onlyLight(step, planes, count, run);
  if (primaries) throughMatrix(planes, count, primaries.there);
  correction.apply(run, values, step.measured);
  if (primaries) throughMatrix(planes, count, primaries.back);
  light?.();
  mix(before, planes, count, amount, sharesOf(step, count, { at, source, ...colours, inPasses: at, passes }));
}
