import { through, throughMatrix } from '../colour/matrix.ts';
import {
  adaptation,
  adaptedLight,
  REC709_WHITE,
  lightOf,
  namedLight,
  TO_XYZ,
  type Cones,
} from '../colour/white.ts';
import { matrixStep } from '../kernels/tile.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { defineCorrection } from './correction.ts';

const NEUTRAL = 6500;
/** How far off the line of black bodies and daylight a tint of 1 is, in CIE 1960 (u, v). */
const TINT = 0.0004;

interface Values {
  kelvin: number;
  tint: number;
  cones: string;
}

type White = RgbPlanes['white'];

/** In a picture of another white the light is seen as that white has become D65. */
function matrixOf({ kelvin, tint, cones }: Values, white: White) {
  const light = lightOf(kelvin, tint * TINT);
  const seen = white ? adaptedLight(light, white, REC709_WHITE) : light;
  return adaptation(seen, REC709_WHITE, cones as Cones);
}

const KELVIN = { min: 1500, max: 15000 } as const;
const MOST_TINT = 100;

/**
 * Values by which a colour becomes grey: it is what the light makes of something that should be.
 * @param colour linear Rec. 709
 * @param white that of the picture, if it is not D65
 * @returns undefined for black, and for colours that no light has
 */
export function lightOfGrey(
  colour: readonly number[],
  white?: White,
): { kelvin: number; tint: number } | undefined {
  const [x, y, z] = through(TO_XYZ, colour);
  const sum = x + y + z;
  if (!(sum > 1e-6) || !(x > 0 && y > 0 && z > 0)) return undefined;
  const seen = [x / sum, y / sum] as const;
  const light = white ? adaptedLight(seen, REC709_WHITE, white) : seen;
  const { kelvin, tint } = namedLight(light, KELVIN.min, KELVIN.max);
  const tinted = Math.round((10 * tint) / TINT) / 10;
  if (Math.abs(tinted) > MOST_TINT) return undefined;
  return { kelvin: Math.round(kelvin), tint: tinted };
}

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
  hint: 'Name the colour temperature of the light, and grey under it becomes neutral.',
  numbers:
    'Applies a linear 3x3 matrix that makes the light’s colour neutral (R = G = B). The light is a black body up to 4000 K and CIE daylight from 5000 K, blended in between.',
  revision: 2,
  fields: [
    {
      kind: 'number',
      key: 'kelvin',
      label: 'Light',
      unit: 'K',
      ...KELVIN,
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
      min: -MOST_TINT,
      max: MOST_TINT,
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
  kernel: (values, { white }) => matrixStep(matrixOf(values, white)),
  apply: (run, values) => throughMatrix(run, run.count, matrixOf(values, run.rendered.white)),
});
