import { defineCorrection } from './correction.ts';
import { signedPower } from './powers.ts';

/** Brightens or darkens what lies between 0 and 1, which stay: x ^ (1 / gamma). */
export const gamma = defineCorrection<{ gamma: number }>({
  works: 'pixel',
  kind: 'gamma',
  label: 'Gamma',
  group: 'light',
  hint: 'Brightens or darkens the middle; black and white stay.',
  fields: [
    {
      kind: 'number',
      key: 'gamma',
      label: 'Gamma',
      unit: '',
      min: 0.05,
      max: 20,
      softMin: 0.2,
      softMax: 3,
      step: 0.01,
      neutral: 1,
    },
  ],
  apply({ count, r, g, b }, values) {
    for (const plane of [r, g, b])
      for (let i = 0; i < count; i++) plane[i] = signedPower(plane[i]!, 1 / values.gamma);
  },
});
