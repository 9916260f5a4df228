import { linearToSrgb, srgbToLinear } from '../../colour/srgb.ts';
import type { Field, PointsValue } from '../../fields/field.ts';
import { defineCorrection } from '../correction.ts';
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
 * is that bright on the screen (sRGB). Brighter than white it is multiplied as white is; below black, moved as black is.
 */
function through(v: number, by: Curve): number {
  if (v >= 1) return v * srgbToLinear(1 + by(1) / 100);
  if (v <= 0) return v + srgbToLinear(by(0) / 100);
  const shown = linearToSrgb(v);
  return srgbToLinear(shown + by(shown) / 100);
}

/** Curves of brightness: one for all channels, then one for each. Flat ones change nothing. */
export const toneCurves = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'tone-curves',
  label: 'Curves by brightness',
  short: 'Curves',
  group: 'light',
  hint: 'Raises or lowers any brightness, of all channels or of one.',
  fields: [curve('all', 'All channels'), curve('red', 'Red'), curve('green', 'Green'), curve('blue', 'Blue')],
  apply({ count, r, g, b }, values) {
    const all = values.all.length ? tableOf(values.all, false) : undefined;
    (
      [
        [r, values.red],
        [g, values.green],
        [b, values.blue],
      ] as const
    ).forEach(([plane, points]) => {
      const own = points.length ? tableOf(points, false) : undefined;
      for (let i = 0; i < count; i++) {
        let v = plane[i]!;
        if (all) v = through(v, all);
        if (own) v = through(v, own);
        plane[i] = v;
      }
    });
  },
});
