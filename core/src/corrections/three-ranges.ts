import type { ColourValue, Field } from '../fields/field.ts';
import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { rangesStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

interface Values {
  shadows: ColourValue;
  midtones: ColourValue;
  highlights: ColourValue;
}

const range = (key: keyof Values, label: string): Field => ({
  kind: 'colour',
  key,
  label,
  max: 4,
  neutral: [1, 1, 1],
});

/**
 * Multiplies dark, middle and light pixels by a colour each. How much a pixel is of which follows from its lightness t
 * (Oklab's L, held between 0 and 1) by Bernstein's polynomials (1 - t)², 2t(1 - t), t², which add up to 1.
 */
export const threeRanges = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'three-ranges',
  label: 'Shadows, midtones, highlights',
  short: 'Three ranges',
  group: 'colour',
  hint: 'Gives dark, middle and light parts a colour or brightness of their own.',
  numbers:
    'Multiplies RGB by a blend of the three colours, weighted by Oklab lightness t: (1 − t)², 2t(1 − t) and t².',
  fields: [range('shadows', 'Shadows'), range('midtones', 'Midtones'), range('highlights', 'Highlights')],
  kernel: ({ shadows, midtones, highlights }) => rangesStep(shadows, midtones, highlights),
  apply({ count, r, g, b }, { shadows, midtones, highlights }) {
    const lab: Triple = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      rgbToOklab(r[i]!, g[i]!, b[i]!, lab);
      const t = Math.min(1, Math.max(0, lab[0]));
      const [dark, middle, light] = [(1 - t) * (1 - t), 2 * t * (1 - t), t * t];
      r[i]! *= dark * shadows[0] + middle * midtones[0] + light * highlights[0];
      g[i]! *= dark * shadows[1] + middle * midtones[1] + light * highlights[1];
      b[i]! *= dark * shadows[2] + middle * midtones[2] + light * highlights[2];
    }
  },
});
