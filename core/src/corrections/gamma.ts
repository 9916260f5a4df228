import { powerStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { signedPower, throughCurve } from './powers.ts';
import { gammaField } from './usual-fields.ts';

/** Brightens or darkens what lies between 0 and 1, which stay: x ^ (1 / gamma). */
export const gamma = defineCorrection<{ gamma: number }>({
  works: 'pixel',
  kind: 'gamma',
  label: 'Gamma',
  group: 'light',
  hint: 'Brightens or darkens the middle; black and white stay.',
  numbers: 'Computes x ^ (1 / gamma) in linear light. 0 and 1 stay.',
  revision: 2,
  fields: [gammaField('gamma', 'Gamma', '')],
  apply({ count, r, g, b }, values) {
    const become = (x: number) => signedPower(x, 1 / values.gamma);
    for (const plane of [r, g, b]) for (let i = 0; i < count; i++) plane[i] = throughCurve(plane[i]!, become);
  },
  kernel: ({ gamma }) => powerStep({ exponent: 1 / gamma }),
});
