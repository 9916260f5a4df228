import type { ColourValue } from '../fields/field.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { strengthField } from './usual-fields.ts';

interface Values {
  strength: number;
  weights: ColourValue;
}

/** Weights that add up to 1; where they add up to nothing, each is a third. */
function shares([r, g, b]: ColourValue): ColourValue {
  const sum = r + g + b;
  return sum > 0 ? [r / sum, g / sum, b / sum] : [1 / 3, 1 / 3, 1 / 3];
}

/** Takes the colour out and keeps the light: by default that of the eye, Rec. 709 luminance; by weights any other. */
export const grey = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'grey',
  label: 'To grey',
  group: 'colour',
  hint: 'Takes colour out and keeps how light things are.',
  numbers:
    'Blends each channel with the weighted sum of all three, in linear light. The default weights preserve Rec. 709 luminance.',
  fields: [
    strengthField(100, 100),
    {
      kind: 'rgb',
      key: 'weights',
      label: 'Weights of red, green, blue',
      min: 0,
      max: 10,
      step: 0.01,
      neutral: [0.2126, 0.7152, 0.0722],
    },
  ],
  idle: ({ strength }) => strength === 0,
  kernel({ strength, weights }) {
    const s = strength / 100;
    const light = shares(weights).map((w) => s * w);
    return matrixStep([0, 1, 2].map((k) => light.map((w, i) => w + (i === k ? 1 - s : 0))));
  },
  apply({ count, r, g, b }, { strength, weights }) {
    const s = strength / 100;
    const [x, y, z] = shares(weights);
    for (let i = 0; i < count; i++) {
      const light = x * r[i]! + y * g[i]! + z * b[i]!;
      r[i] = r[i]! + s * (light - r[i]!);
      g[i] = g[i]! + s * (light - g[i]!);
      b[i] = b[i]! + s * (light - b[i]!);
    }
  },
});
