import type { ColourValue } from '../fields/field.ts';
import { defineCorrection } from './correction.ts';
import { shareOfPass } from './pass-values.ts';

/**
 * Scales one kind of light of a part, by a light pass of the version: its reflection, its specular light, what it
 * scatters, what a lamp gives. Of each channel the share P / C that the pass has in the picture as rendered is multiplied
 * and tinted, C' = C (1 + (gain · tint − 1) P / C); everything else stays. So it also acts on what was corrected before,
 * and on a member's own part of a mixed pixel.
 */
export const scaleLight = defineCorrection<{ pass: string; gain: number; tint: ColourValue }>({
  works: 'pixel',
  kind: 'scale-light',
  label: 'Scale one kind of light',
  short: 'Light',
  group: 'pass',
  hint: 'More or less reflection, specular or scattered light, by a light pass; the rest stays.',
  numbers:
    'Multiplies the pass’s share of each channel by the factor and the tint. The rest of the light stays.',
  fields: [
    {
      kind: 'pass',
      key: 'pass',
      label: 'Light pass',
      like: '^(reflection|specular|diffuse|refraction|emission|lamp|light)',
      neutral: '',
    },
    {
      kind: 'number',
      key: 'gain',
      label: 'Times',
      unit: '',
      min: 0,
      max: 100,
      softMax: 3,
      step: 0.01,
      neutral: 1,
      initial: 0.5,
    },
    { kind: 'colour', key: 'tint', label: 'Tint', max: 100, neutral: [1, 1, 1] },
  ],
  idle: ({ pass, gain, tint }) => pass === '' || (gain === 1 && tint.every((v) => v === 1)),
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  apply({ count, r, g, b, at, rendered, passes }, { pass, gain, tint }) {
    if (!passes[pass]) return;
    const share = shareOfPass(rendered, [passes[pass]]);
    [r, g, b].forEach((plane, k) => {
      const by = gain * tint[k]! - 1;
      for (let i = 0; i < count; i++) plane[i]! *= 1 + by * share(at[i]!, k);
    });
  },
});
