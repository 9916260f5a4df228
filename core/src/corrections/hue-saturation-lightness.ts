import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { HALVINGS, oklabWithin } from '../colour/within-range.ts';
import { turnStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { angleField } from './usual-fields.ts';

interface Values {
  hue: number;
  saturation: number;
  lightness: number;
}

/** What the values mean: a turn of the a/b plane with a scale, and a scale of lightness. */
function turnOf({ hue, saturation, lightness }: Values) {
  const angle = (hue * Math.PI) / 180;
  const light = 1 + lightness / 100;
  const chroma = (1 + saturation / 100) * Math.min(1, light);
  return { cos: Math.cos(angle) * chroma, sin: Math.sin(angle) * chroma, light };
}

/**
 * Hue, saturation and lightness in Oklab's cylindrical form (Ottosson 2020): hue turns the a/b plane, saturation
 * scales chroma, lightness scales L. Darkening scales chroma along with L, so that -100 % is black.
 *
 * Turning or strengthening a colour can leave the range of the primaries and make a component negative. Chroma is
 * then reduced, at constant lightness and hue, just until no component is more negative than the pixel's own were.
 */
export const hueSaturationLightness = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'hue-saturation-lightness',
  label: 'Hue, saturation, lightness',
  short: 'HSL',
  group: 'colour',
  hint: 'Turns the hue, and makes colours stronger, weaker, lighter or darker.',
  numbers:
    'Works in Oklab: rotates the hue, scales chroma by saturation and scales L by lightness. Darkening scales chroma too. Colours outside the primaries lose chroma until they fit.',
  fields: [
    { ...angleField('hue', 'Hue'), inPicture: true as const },
    {
      kind: 'number',
      key: 'saturation',
      label: 'Saturation',
      unit: '%',
      min: -100,
      max: 400,
      softMin: -100,
      softMax: 100,
      step: 1,
      neutral: 0,
    },
    {
      kind: 'number',
      key: 'lightness',
      label: 'Lightness',
      unit: '%',
      min: -100,
      max: 400,
      softMin: -100,
      softMax: 100,
      step: 1,
      neutral: 0,
    },
  ],
  apply({ count, r, g, b }, values) {
    const { cos, sin, light } = turnOf(values);
    const t: Triple = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      const floor = Math.min(0, r[i]!, g[i]!, b[i]!) - 1e-6;
      rgbToOklab(r[i]!, g[i]!, b[i]!, t);
      const L = t[0] * light;
      const A = t[1] * cos - t[2] * sin;
      const B = t[1] * sin + t[2] * cos;
      oklabWithin(L, A, B, floor, t);
      r[i] = t[0];
      g[i] = t[1];
      b[i] = t[2];
    }
  },
  kernel(values) {
    const { cos, sin, light } = turnOf(values);
    return turnStep(cos, sin, light, HALVINGS);
  },
});
