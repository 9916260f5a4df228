import { throughMatrix } from '../colour/matrix.ts';
import { adaptation, whiteOf, type Cones } from '../colour/white.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

const NEUTRAL = 6500;
/** So far off the locus of glowing bodies, in CIE 1960 (u, v), is a tint of 1. */
const TINT = 0.0004;

interface Values {
  kelvin: number;
  tint: number;
  cones: string;
}

const matrixOf = ({ kelvin, tint, cones }: Values) =>
  adaptation(whiteOf(kelvin, tint * TINT), whiteOf(NEUTRAL), cones as Cones);

/**
 * Takes the colour of the light out: what this light makes of a grey thing becomes grey. Temperature along the locus
 * of glowing bodies, tint square to it; adapted to 6500 K in the cones of Bradford or of CAT16.
 */
export const whiteBalance = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'white-balance',
  label: 'White balance',
  group: 'colour',
  hint: 'Makes warm light cooler or cool light warmer: name the light as it is.',
  fields: [
    {
      kind: 'number',
      key: 'kelvin',
      label: 'Light',
      unit: 'K',
      min: 1500,
      max: 15000,
      softMin: 2500,
      softMax: 10500,
      step: 50,
      neutral: NEUTRAL,
    },
    {
      kind: 'number',
      key: 'tint',
      label: 'Tint',
      unit: '',
      min: -100,
      max: 100,
      step: 1,
      neutral: 0,
    },
    {
      kind: 'choice',
      key: 'cones',
      label: 'Adaptation',
      options: [
        { value: 'bradford', label: 'Bradford' },
        { value: 'cat16', label: 'CAT16' },
      ],
      neutral: 'bradford',
    },
  ],
  idle: ({ kelvin, tint }) => kelvin === NEUTRAL && tint === 0,
  kernel: (values) => matrixStep(matrixOf(values)),
  apply: (run, values) => throughMatrix(run, run.count, matrixOf(values)),
});
