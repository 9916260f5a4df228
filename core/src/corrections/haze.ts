import type { ColourValue } from '../fields/field.ts';
import { defineCorrection } from './correction.ts';
import { strengthField } from './usual-fields.ts';

interface Values {
  pass: string;
  strength: number;
  from: number;
  half: number;
  colour: ColourValue;
}

const distance = (key: 'from' | 'half', label: string, min: number, neutral: number) =>
  ({
    kind: 'number',
    key,
    label,
    unit: 'scene units',
    min,
    max: 1e6,
    softMin: min,
    softMax: 20,
    step: 0.1,
    neutral,
  }) as const;

/**
 * Haze by depth: the farther away, the more a pixel goes to the haze's colour, by Beer's law. At `from` it begins, after
 * every `half` more, half of what was left is haze. Where depth is no number, as where nothing was hit, all is far.
 */
export const haze = defineCorrection<Values>({
  works: 'pixel',
  kind: 'haze',
  label: 'Haze by depth',
  short: 'Haze',
  group: 'pass',
  hint: 'Lets what is far away fade into a colour, by the version’s depth.',
  numbers: 'Blends towards the colour by 1 − 2 ^ −((depth − start) / half) (Beer’s law).',
  fields: [
    { kind: 'pass', key: 'pass', label: 'Depth', like: '^(depth|z)', neutral: '' },
    strengthField(100, 60),
    distance('from', 'Begins at', 0, 0),
    distance('half', 'Half after', 0.001, 5),
    { kind: 'colour', key: 'colour', label: 'Colour', max: 100, neutral: [0.7, 0.75, 0.8] },
  ],
  idle: ({ pass, strength }) => pass === '' || strength === 0,
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  apply({ count, r, g, b, at, passes }, { pass, strength, from, half, colour }) {
    const depth = passes[pass]?.[0];
    if (!depth) return;
    for (let i = 0; i < count; i++) {
      const away = (depth[at[i]!]! - from) / half;
      const share = (strength / 100) * (away > 0 ? 1 - 2 ** -away : away <= 0 ? 0 : 1);
      r[i]! += share * (colour[0] - r[i]!);
      g[i]! += share * (colour[1] - g[i]!);
      b[i]! += share * (colour[2] - b[i]!);
    }
  },
});
