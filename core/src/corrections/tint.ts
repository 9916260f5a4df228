import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { HALVINGS, oklabWithin } from '../colour/within-range.ts';
import type { ColourValue } from '../fields/field.ts';
import { turnStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { strengthField } from './usual-fields.ts';

/** The colour's a and b for each unit of lightness. */
function chromaOf(colour: ColourValue): [number, number] {
  const t: Triple = [0, 0, 0];
  rgbToOklab(...colour, t);
  return t[0] > 1e-6 ? [t[1] / t[0], t[2] / t[0]] : [0, 0];
}

/**
 * Gives everything the hue and chroma of one colour, as strong as wanted; lightness is kept (Oklab's L). Chroma goes
 * with lightness, so that dark parts are no more colourful than the colour itself would be there.
 */
export const tint = defineCorrection<{ colour: ColourValue; strength: number }>({
  works: 'pixel',
  rec709: true,
  kind: 'tint',
  label: 'Tint',
  group: 'colour',
  hint: 'Colours everything with one colour and keeps its light and dark.',
  numbers:
    'Blends Oklab a and b towards those of the colour. Perceived lightness is preserved, so luminance shifts slightly. Chroma follows lightness.',
  fields: [
    { kind: 'colour', key: 'colour', label: 'Colour', max: 100, neutral: [0.8, 0.42, 0.1] },
    strengthField(100, 60),
  ],
  idle: ({ strength }) => strength === 0,
  kernel({ colour, strength }) {
    const s = strength / 100;
    const [a, b] = chromaOf(colour);
    return turnStep(1 - s, 0, 1, HALVINGS, [s * a, s * b]);
  },
  apply({ count, r, g, b }, { colour, strength }) {
    const t: Triple = [0, 0, 0];
    const [A, B] = chromaOf(colour);
    const s = strength / 100;
    for (let i = 0; i < count; i++) {
      const floor = Math.min(0, r[i]!, g[i]!, b[i]!) - 1e-6;
      rgbToOklab(r[i]!, g[i]!, b[i]!, t);
      const L = t[0];
      oklabWithin(L, t[1] + s * (A * L - t[1]), t[2] + s * (B * L - t[2]), floor, t);
      r[i] = t[0];
      g[i] = t[1];
      b[i] = t[2];
    }
  },
});
