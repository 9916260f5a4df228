import { luminance } from '../colour/luminance.ts';
import type { ColourValue } from '../fields/field.ts';
import { defineCorrection } from './correction.ts';
import { sizeField, strengthField } from './usual-fields.ts';
import { inner, reachOf, soften } from './soft.ts';

interface Values {
  strength: number;
  threshold: number;
  size: number;
  tint: ColourValue;
}

/**
 * Light that spreads beyond the mask, as in a lens: what is brighter than the threshold inside the mask, as much as it
 * is brighter, softened and added, tinted. Light is kept: a strength of 100 % adds as much again as is above it.
 */
export const glow = defineCorrection<Values>({
  works: 'area',
  kind: 'glow',
  label: 'Glow',
  group: 'area',
  hint: 'Lets bright parts shine beyond the mask.',
  numbers:
    'Blurs the light whose luminance is above the threshold and adds it. 100 % adds as much light as there is above the threshold.',
  revision: 2,
  fields: [
    strengthField(1000, 60, { softMax: 200 }),
    {
      kind: 'number',
      key: 'threshold',
      label: 'Threshold',
      unit: 'linear',
      min: 0,
      max: 1000,
      softMax: 4,
      step: 0.01,
      neutral: 0.8,
    },
    sizeField(20, { min: 0.2, softMax: 80 }),
    { kind: 'colour', key: 'tint', label: 'Tint', max: 4, neutral: [1, 1, 1] },
  ],
  idle: ({ strength }) => strength === 0,
  reach: ({ size }) => reachOf(size),
  spread: ({ size }) => reachOf(size),
  apply(window, { strength, threshold, size, tint }, out) {
    const { planes, coverage } = window;
    const weights = new Float32Array(coverage.length);
    for (let i = 0; i < weights.length; i++) {
      const c = coverage[i]!;
      if (!(c > 0)) continue;
      const y = luminance(planes.r[i]!, planes.g[i]!, planes.b[i]!);
      if (y > threshold && Number.isFinite(y)) weights[i] = (c * (y - threshold)) / y;
    }
    const soft = soften(window, weights, size);
    (['r', 'g', 'b'] as const).forEach((k, channel) => {
      const own = inner(planes[k], window);
      const [light, target] = [soft[k], out[k]];
      const by = (strength / 100) * tint[channel]!;
      for (let i = 0; i < own.length; i++) target[i] = own[i]! + by * light[i]!;
    });
  },
});
