import { luminance } from '../colour/luminance.ts';
import { defineCorrection } from './correction.ts';
import { PIVOT } from './usual-fields.ts';

/** Stops from the pivot on which a lift grows to its whole. */
const SPAN = 4;

interface Values {
  shadows: number;
  highlights: number;
  pivot: number;
}

const stops = (key: keyof Values, label: string, min: number, max: number) =>
  ({
    kind: 'number',
    key,
    label,
    unit: 'stops',
    min,
    max,
    softMin: -2,
    softMax: 2,
    step: 0.05,
    neutral: 0,
  }) as const;

/**
 * Lifts what is darker than the pivot, and pulls what is brighter, by up to so many stops: the farther from the pivot,
 * the more, on a smooth step over four stops. All channels of a pixel are multiplied alike, so that hue and saturation
 * stay; as far as the settings go, what is brighter stays brighter.
 */
export const shadowsHighlights = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'shadows-highlights',
  label: 'Shadows and highlights',
  short: 'Dark and bright',
  group: 'light',
  hint: 'Lifts dark parts or pulls bright ones down, and leaves the middle.',
  numbers:
    'Multiplies RGB by up to 2 ^ stops, depending on how far luminance is from the pivot, over four stops. Hue and saturation stay.',
  fields: [stops('shadows', 'Shadows', -6, 2.5), stops('highlights', 'Highlights', -2.5, 6), PIVOT],
  idle: ({ shadows, highlights }) => shadows === 0 && highlights === 0,
  apply({ count, r, g, b }, { shadows, highlights, pivot }) {
    for (let i = 0; i < count; i++) {
      const y = luminance(r[i]!, g[i]!, b[i]!);
      if (!(y > 0)) continue;
      const away = Math.log2(y / pivot) / SPAN;
      const t = Math.min(1, Math.abs(away));
      const gain = 2 ** ((away < 0 ? shadows : highlights) * t * t * (3 - 2 * t));
      r[i]! *= gain;
      g[i]! *= gain;
      b[i]! *= gain;
    }
  },
});
