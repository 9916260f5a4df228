import { linearToSrgb, srgbToLinear } from '../../colour/srgb.ts';
import type { Field, PointsValue } from '../../fields/field.ts';
import { defineCorrection } from '../correction.ts';
import { throughCurve } from '../powers.ts';
import { tableOf, type Curve } from './curve.ts';

interface Values {
  all: PointsValue;
  red: PointsValue;
  green: PointsValue;
  blue: PointsValue;
}

const curve = (key: keyof Values, label: string): Field => ({
  kind: 'curve',
  key,
  label,
  axis: 'light',
  unit: '%',
  reach: 50,
  most: 16,
  neutral: [],
});

/**
 * What becomes of a scene-linear value: a curve says by how much of the display's range it is raised or lowered where it
 * is that bright on the screen (sRGB). Brighter than white it is multiplied as white is.
 */
const through = (v: number, by: Curve): number =>
  throughCurve(v, (x) => {
    if (x >= 1) return x * srgbToLinear(1 + by(1) / 100);
    const shown = linearToSrgb(x);
    return srgbToLinear(shown + by(shown) / 100);
  });

const STEPS = 4096;
/** So dark sRGB is in proportion, and a table over the square root too coarse. */
const DARK = 0.0031308;
const { sqrt } = Math;

/** What becomes of the values of one channel. */
interface Tone {
  exact: (v: number) => number;
  /** Of 0 to 1, over the square root; between its entries in proportion: to some millionths of a value. */
  table: Float64Array;
  /** What values from 1 on are multiplied by; undefined if they may fall below 1 between two curves. */
  above: number | undefined;
}

function toneOf(...curves: readonly PointsValue[]): Tone | undefined {
  const bent = curves.filter((points) => points.length > 0).map((points) => tableOf(points, false));
  if (bent.length === 0) return undefined;
  const exact = (v: number) => bent.reduce(through, v);
  return {
    exact,
    table: Float64Array.from({ length: STEPS + 2 }, (_, i) => exact(Math.min(1, (i / STEPS) ** 2))),
    above: bent.length === 1 || bent[0]!(1) >= 0 ? exact(1) : undefined,
  };
}

function bend(plane: Float32Array, count: number, { exact, table, above }: Tone): void {
  for (let i = 0; i < count; i++) {
    const v = plane[i]!;
    if (v >= 1 && above !== undefined) plane[i] = v * above;
    else if (v > DARK && v < 1) {
      const at = sqrt(v) * STEPS;
      const k = at | 0;
      plane[i] = table[k]! + (table[k + 1]! - table[k]!) * (at - k);
    } else plane[i] = exact(v);
  }
}

/** Tables last as long as the values that they are of: many tiles are corrected with the same. */
const tones = new WeakMap<Values, (Tone | undefined)[]>();

/** Curves of brightness: one for all channels, then one for each. Flat ones change nothing. */
export const toneCurves = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'tone-curves',
  label: 'Curves by brightness',
  short: 'Curves',
  group: 'light',
  hint: 'Raises or lowers any brightness, of all channels or of one.',
  numbers:
    'Adds the curve’s value, in percent of the sRGB scale, at the pixel’s sRGB brightness. Values above white are multiplied by what white is multiplied by. Nothing becomes negative.',
  revision: 2,
  fields: [curve('all', 'All channels'), curve('red', 'Red'), curve('green', 'Green'), curve('blue', 'Blue')],
  apply({ count, r, g, b }, values) {
    const { all, red, green, blue } = values;
    const found = tones.get(values) ?? [red, green, blue].map((own) => toneOf(all, own));
    tones.set(values, found);
    [r, g, b].forEach((plane, k) => {
      const tone = found[k];
      if (tone) bend(plane, count, tone);
    });
  },
});
