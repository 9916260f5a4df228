import type { Field } from '../fields/field.ts';
import { powerStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { signedPower, throughCurve } from './powers.ts';
import { gammaField } from './usual-fields.ts';

interface Values {
  black: number;
  white: number;
  middle: number;
  toBlack: number;
  toWhite: number;
}

const level = (key: keyof Values, label: string, neutral: number): Field => ({
  kind: 'number',
  key,
  label,
  unit: 'linear',
  min: -10,
  max: 1000,
  softMin: 0,
  softMax: 2,
  step: 0.01,
  neutral,
});

/** Black and white may cross, but not meet. */
function scaleOf(black: number, white: number): number {
  const span = white - black;
  return 1 / (Math.abs(span) < 1e-6 ? 1e-6 : span);
}

/**
 * Levels of scene-linear values: black and white go to 0 and 1, the middle bends what lies between as a gamma does, and
 * 0 and 1 go to what they become. What lies beyond is carried on, as far as black.
 */
export const levels = defineCorrection<Values>({
  works: 'pixel',
  kind: 'levels',
  label: 'Levels',
  group: 'light',
  hint: 'Sets what is black, white and middle, and what they become.',
  numbers:
    'Computes ((x − black) / (white − black)) ^ (1 / middle) in linear light, then maps 0 and 1 to the output black and white. Nothing becomes negative.',
  revision: 2,
  fields: [
    level('black', 'Black', 0),
    level('white', 'White', 1),
    gammaField('middle', 'Middle', 'gamma'),
    level('toBlack', 'Black becomes', 0),
    level('toWhite', 'White becomes', 1),
  ],
  kernel({ black, white, middle, toBlack, toWhite }) {
    const scale = scaleOf(black, white);
    // So large, 32 bits are not enough.
    if (Math.abs(scale) > 100) return undefined;
    return powerStep({ offset: black, scale, exponent: 1 / middle, gain: toWhite - toBlack, base: toBlack });
  },
  apply({ count, r, g, b }, { black, white, middle, toBlack, toWhite }) {
    const scale = scaleOf(black, white);
    const become = (x: number) =>
      toBlack + signedPower((x - black) * scale, 1 / middle) * (toWhite - toBlack);
    for (const plane of [r, g, b]) for (let i = 0; i < count; i++) plane[i] = throughCurve(plane[i]!, become);
  },
});
