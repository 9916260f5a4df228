import type { ColourValue, Field } from '../fields/field.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

interface Values {
  red: ColourValue;
  green: ColourValue;
  blue: ColourValue;
}

const row = (key: keyof Values, label: string, neutral: ColourValue): Field => ({
  kind: 'rgb',
  key,
  label,
  min: -10,
  max: 10,
  step: 0.01,
  neutral,
});
const rowsOf = ({ red, green, blue }: Values) => [red, green, blue];

/** Makes each channel of all three: so much of red, green and blue become the new red, and so on. A 3x3 matrix. */
export const channelMix = defineCorrection<Values>({
  works: 'pixel',
  kind: 'channel-mix',
  label: 'Mix channels',
  short: 'Channels',
  group: 'colour',
  hint: 'Makes red, green and blue each of so much of all three.',
  numbers: 'Multiplies linear RGB by the 3x3 matrix as entered. Rows that add up to 1 leave greys unchanged.',
  fields: [
    row('red', 'Red from red, green, blue', [1, 0, 0]),
    row('green', 'Green from red, green, blue', [0, 1, 0]),
    row('blue', 'Blue from red, green, blue', [0, 0, 1]),
  ],
  kernel: (values) => matrixStep(rowsOf(values).map((v) => [...v])),
  apply({ count, r, g, b }, values) {
    const [[a, c, d], [e, f, h], [k, l, n]] = rowsOf(values) as [ColourValue, ColourValue, ColourValue];
    for (let i = 0; i < count; i++) {
      const [x, y, z] = [r[i]!, g[i]!, b[i]!];
      r[i] = a * x + c * y + d * z;
      g[i] = e * x + f * y + h * z;
      b[i] = k * x + l * y + n * z;
    }
  },
});
