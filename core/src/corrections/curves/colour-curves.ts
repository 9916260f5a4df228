import { rgbToOklab, sureOfHue, type Triple } from '../../colour/oklab.ts';
import { oklabWithin } from '../../colour/within-range.ts';
import type { Field, PointsValue } from '../../fields/field.ts';
import { defineCorrection } from '../correction.ts';
import { tableOf } from './curve.ts';

interface Values {
  hueByHue: PointsValue;
  saturationByHue: PointsValue;
  lightnessByHue: PointsValue;
  saturationByLightness: PointsValue;
}

const { PI, atan2, cos: cosine, max, min, sin: sine, sqrt } = Math;

const curve = (
  key: keyof Values,
  label: string,
  axis: 'hue' | 'lightness',
  unit: string,
  reach: number,
): Field => ({
  kind: 'curve',
  key,
  label,
  axis,
  unit,
  reach,
  most: 16,
  neutral: [],
});

/**
 * Curves of colour in Oklab's cylindrical form (Ottosson 2020): by its hue a pixel's hue is turned, its saturation and
 * lightness made more or less; by its lightness its saturation. Curves by hue go round. Chroma is reduced where the
 * primaries cannot show it, at constant lightness and hue.
 */
export const colourCurves = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'colour-curves',
  label: 'Curves by hue',
  short: 'By hue',
  group: 'colour',
  hint: 'Turns, strengthens or brightens some hues, and saturation by lightness.',
  numbers:
    'Works in Oklab: hue curves in degrees, chroma and lightness curves in percent. Chroma does not follow lightness. Colours outside the primaries lose chroma until they fit.',
  fields: [
    curve('hueByHue', 'Hue, by hue', 'hue', '°', 90),
    curve('saturationByHue', 'Saturation, by hue', 'hue', '%', 100),
    curve('lightnessByHue', 'Lightness, by hue', 'hue', '%', 50),
    curve('saturationByLightness', 'Saturation, by lightness', 'lightness', '%', 100),
  ],
  apply({ count, r, g, b }, values) {
    const [turn, saturate, lighten] = [values.hueByHue, values.saturationByHue, values.lightnessByHue].map(
      (p) => tableOf(p, true),
    ) as [(x: number) => number, (x: number) => number, (x: number) => number];
    const byLightness = tableOf(values.saturationByLightness, false);
    const t: Triple = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      const floor = min(0, r[i]!, g[i]!, b[i]!) - 1e-6;
      rgbToOklab(r[i]!, g[i]!, b[i]!, t);
      const [L, A, B] = t;
      const chroma = sqrt(A * A + B * B);
      const sure = L > 1e-6 ? sureOfHue(chroma / L) : 0;
      const hue = (atan2(B, A) / (2 * PI) + 1) % 1;
      const angle = (sure * turn(hue) * PI) / 180;
      const light = 1 + (sure * lighten(hue)) / 100;
      const more = max(0, 1 + (sure * saturate(hue)) / 100) * max(0, 1 + byLightness(L) / 100);
      const scale = more * min(1, light);
      const [cos, sin] = [cosine(angle) * scale, sine(angle) * scale];
      oklabWithin(L * light, A * cos - B * sin, A * sin + B * cos, floor, t);
      r[i] = t[0];
      g[i] = t[1];
      b[i] = t[2];
    }
  },
});
