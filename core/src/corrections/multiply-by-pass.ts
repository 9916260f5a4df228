import { defineCorrection } from './correction.ts';
import { channelOf } from './pass-values.ts';

/**
 * Multiplies by another pass of the version: ambient occlusion deepens what is near other things. Black and white say
 * which values of the pass count as 0 and 1; the amount says how much of it there is. A pass of three channels goes to
 * red, green and blue.
 */
export const multiplyByPass = defineCorrection<{ pass: string; black: number; white: number }>({
  works: 'pixel',
  kind: 'multiply-by-pass',
  label: 'Multiply by a pass',
  short: 'Pass',
  group: 'pass',
  hint: 'Deepens with ambient occlusion, or with any other pass of the version.',
  numbers: 'Multiplies the light by (pass − black) / (white − black).',
  fields: [
    { kind: 'pass', key: 'pass', label: 'Pass', neutral: '' },
    {
      kind: 'number',
      key: 'black',
      label: 'Black',
      unit: '',
      min: -1e6,
      max: 1e6,
      softMin: 0,
      softMax: 1,
      step: 0.01,
      neutral: 0,
    },
    {
      kind: 'number',
      key: 'white',
      label: 'White',
      unit: '',
      min: -1e6,
      max: 1e6,
      softMin: 0,
      softMax: 1,
      step: 0.01,
      neutral: 1,
    },
  ],
  idle: ({ pass }) => pass === '',
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  apply({ count, r, g, b, at, passes }, { pass, black, white }) {
    const planes = passes[pass];
    if (!planes) return;
    const span = white - black;
    const scale = 1 / (Math.abs(span) < 1e-6 ? 1e-6 : span);
    [r, g, b].forEach((plane, k) => {
      const by = channelOf(planes, k);
      for (let i = 0; i < count; i++) {
        const v = (by[at[i]!]! - black) * scale;
        // What is not a number counts as nothing there.
        const factor = v >= 0 ? Math.min(1, v) : 0;
        plane[i] = factor === 0 ? 0 : plane[i]! * factor;
      }
    });
  },
});
