import { powerStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { PIVOT } from './usual-fields.ts';
import { signedPower, throughCurve } from './powers.ts';

/**
 * Contrast as a film has it: stops above and below the pivot are multiplied, so that the pivot stays and nothing clips.
 * In scene-linear light: pivot * (x / pivot) ^ k, k = 1 + contrast / 100.
 */
export const contrast = defineCorrection<{ contrast: number; pivot: number }>({
  works: 'pixel',
  kind: 'contrast',
  label: 'Contrast',
  group: 'light',
  hint: 'Pulls light and dark apart around a pivot, or brings them together.',
  numbers:
    'Applies a power to linear light around the pivot: each stop above or below it becomes 1 + contrast / 100 stops.',
  revision: 2,
  fields: [
    {
      kind: 'number',
      key: 'contrast',
      label: 'Contrast',
      unit: '%',
      min: -100,
      max: 400,
      softMax: 100,
      step: 1,
      neutral: 0,
    },
    PIVOT,
  ],
  idle: ({ contrast }) => contrast === 0,
  apply({ count, r, g, b }, { contrast, pivot }) {
    const k = 1 + contrast / 100;
    const become = (x: number) => pivot * signedPower(x / pivot, k);
    for (const plane of [r, g, b]) for (let i = 0; i < count; i++) plane[i] = throughCurve(plane[i]!, become);
  },
  kernel: ({ contrast, pivot }) => powerStep({ scale: 1 / pivot, exponent: 1 + contrast / 100, gain: pivot }),
});
