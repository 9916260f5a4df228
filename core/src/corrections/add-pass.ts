import type { ColourValue } from '../fields/field.ts';
import { defineCorrection } from './correction.ts';
import { channelOf } from './pass-values.ts';
import { strengthField } from './usual-fields.ts';

/** Adds another pass of the version, tinted: more reflection, or less below 0. What is no number adds nothing. */
export const addPass = defineCorrection<{ pass: string; strength: number; tint: ColourValue }>({
  works: 'pixel',
  kind: 'add-pass',
  label: 'Add a pass',
  group: 'pass',
  hint: 'Adds reflection, emission or any other pass of the version once more, or takes it off.',
  numbers: 'Adds the pass × strength × tint, in linear light.',
  fields: [
    {
      kind: 'pass',
      key: 'pass',
      label: 'Pass',
      like: '^(reflection|specular|emission|refraction)',
      neutral: '',
    },
    strengthField(1000, 50, { min: -1000, softMin: -100, softMax: 100 }),
    { kind: 'colour', key: 'tint', label: 'Tint', max: 100, neutral: [1, 1, 1] },
  ],
  idle: ({ pass, strength }) => pass === '' || strength === 0,
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  apply({ count, r, g, b, at, passes }, { pass, strength, tint }) {
    const planes = passes[pass];
    if (!planes) return;
    [r, g, b].forEach((plane, k) => {
      const from = channelOf(planes, k);
      const by = (strength / 100) * tint[k]!;
      for (let i = 0; i < count; i++) {
        const v = from[at[i]!]! * by;
        if (Number.isFinite(v)) plane[i]! += v;
      }
    });
  },
});
