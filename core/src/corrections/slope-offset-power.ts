import { luminance } from '../colour/luminance.ts';
import type { ColourValue } from '../fields/field.ts';
import { slopeStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { throughCurve } from './powers.ts';

interface Values {
  slope: ColourValue;
  offset: ColourValue;
  power: ColourValue;
  saturation: number;
}

/**
 * Slope, offset, power and saturation of the ASC Color Decision List, version 1.2: (x * slope + offset) ^ power, then
 * the distance from Rec. 709 luma times saturation. As there, nothing goes below 0 that was not; scene-linear light has no
 * upper bound and is not clipped.
 */
export const slopeOffsetPower = defineCorrection<Values>({
  works: 'pixel',
  kind: 'slope-offset-power',
  label: 'Slope, offset, power (ASC CDL)',
  short: 'CDL',
  group: 'colour',
  hint: 'The numbers of a colour decision list, channel by channel.',
  numbers:
    'Computes (x × slope + offset) ^ power for each channel in linear light, never below 0, then scales the distance from Rec. 709 luma by the saturation.',
  revision: 2,
  fields: [
    { kind: 'rgb', key: 'slope', label: 'Slope', min: 0, max: 100, step: 0.01, neutral: [1, 1, 1] },
    { kind: 'rgb', key: 'offset', label: 'Offset', min: -10, max: 10, step: 0.01, neutral: [0, 0, 0] },
    { kind: 'rgb', key: 'power', label: 'Power', min: 0.01, max: 20, step: 0.01, neutral: [1, 1, 1] },
    {
      kind: 'number',
      key: 'saturation',
      label: 'Saturation',
      unit: '',
      min: 0,
      max: 20,
      softMax: 2,
      step: 0.01,
      neutral: 1,
    },
  ],
  kernel: ({ slope, offset, power, saturation }) => slopeStep(slope, offset, power, saturation),
  apply({ count, r, g, b }, { slope, offset, power, saturation }) {
    const curves = [0, 1, 2].map((k) => (v: number) => {
      const x = v * slope[k]! + offset[k]!;
      return x > 0 ? x ** power[k]! : 0;
    });
    const one = (v: number, k: number): number => throughCurve(v, curves[k]!);
    const from = (luma: number, x: number) => Math.max(Math.min(0, x), luma + saturation * (x - luma));
    for (let i = 0; i < count; i++) {
      const [x, y, z] = [one(r[i]!, 0), one(g[i]!, 1), one(b[i]!, 2)];
      const luma = luminance(x, y, z);
      const far = saturation !== 1 && Number.isFinite(luma);
      r[i] = far ? from(luma, x) : x;
      g[i] = far ? from(luma, y) : y;
      b[i] = far ? from(luma, z) : z;
    }
  },
});
