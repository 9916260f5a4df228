import { throughMatrix } from '../colour/matrix.ts';
import { adaptation, REC709_WHITE, lightOf, type Cones } from '../colour/white.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';

const NEUTRAL = 6500;
/** How far off the line of black bodies and daylight a tint of 1 is, in CIE 1960 (u, v). */
const TINT = 0.0004;

interface Values {
  kelvin: number;
  tint: number;
  cones: string;
}

const matrixOf = ({ kelvin, tint, cones }: Values) =>
  adaptation(lightOf(kelvin, tint * TINT), REC709_WHITE, cones as Cones);

/**
 * Takes the colour of the light out: what this light makes of a grey thing becomes grey, the same in red, green and blue.
 * The temperature runs along black bodies and daylight, the tint at right angles to that; adapted in the cones of Bradford or of CAT16.
 */
export const whiteBalance = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'white-balance',
  label: 'White balance',
  group: 'colour',
  hint: 'Name the colour temperature of the light, and grey under it becomes neutral. Up to 4000 K it is a black body, from 5000 K daylight.',
  revision: 2,
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
