import { gainStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

/** Multiplies light by 2 to the power of `stops`, as a lens or a longer exposure would. */
export const exposure = defineCorrection<{ stops: number }>({
  works: 'pixel',
  kind: 'exposure',
  label: 'Exposure',
  group: 'light',
  hint: 'More or less light, in stops.',
  numbers: 'Multiplies linear RGB by 2 to the power of the stops.',
  fields: [
    {
      kind: 'number',
      key: 'stops',
      inPicture: true,
      label: 'Exposure',
      unit: 'stops',
      min: -20,
      max: 20,
      softMin: -4,
      softMax: 4,
      step: 0.05,
      neutral: 0,
    },
  ],
  apply({ count, r, g, b }, { stops }) {
    const gain = 2 ** stops;
    for (let i = 0; i < count; i++) {
      r[i]! *= gain;
      g[i]! *= gain;
      b[i]! *= gain;
    }
  },
  kernel: ({ stops }) => gainStep(2 ** stops),
});
