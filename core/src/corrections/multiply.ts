import type { ColourValue } from '../fields/field.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

/** Multiplies red, green and blue each by a number, as a coloured filter before the lens does. */
export const multiply = defineCorrection<{ by: ColourValue }>({
  works: 'pixel',
  kind: 'multiply',
  label: 'Multiply by a colour',
  short: 'Multiply',
  group: 'colour',
  hint: 'A coloured filter: red, green and blue each times a number.',
  numbers: 'Multiplies linear RGB by the colour, channel by channel.',
  fields: [{ kind: 'colour', key: 'by', label: 'Colour', max: 100, neutral: [1, 1, 1] }],
  kernel: ({ by }) =>
    matrixStep([
      [by[0], 0, 0],
      [0, by[1], 0],
      [0, 0, by[2]],
    ]),
  apply({ count, r, g, b }, { by }) {
    [r, g, b].forEach((plane, k) => {
      for (let i = 0; i < count; i++) plane[i]! *= by[k]!;
    });
  },
});
