import { defineCorrection } from './correction.ts';
import { reachOf, towardsMean } from './soft.ts';
import { sizeField } from './usual-fields.ts';

/**
 * Blurs inside the mask: means of three boxes, near to a Gaussian, weighed by coverage, so that nothing bleeds in from
 * outside and nothing outside changes. The size is two standard deviations.
 */
export const blur = defineCorrection<{ size: number }>({
  works: 'area',
  kind: 'blur',
  label: 'Blur',
  group: 'area',
  hint: 'Softens what is inside the mask; its surroundings neither bleed in nor change.',
  numbers:
    'Averages linear light under a near-Gaussian with a standard deviation of half the size, weighted by the mask.',
  fields: [sizeField(0, { initial: 6 })],
  reach: ({ size }) => reachOf(size),
  apply: (window, { size }, out) => towardsMean(window, size, 1, out),
});
