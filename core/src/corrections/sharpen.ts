import { defineCorrection } from './correction.ts';
import { beyondField, boundsOf, holdWithin } from './overshoot.ts';
import { sizeField, strengthField } from './usual-fields.ts';
import { reachOf, towardsMean } from './soft.ts';

/**
 * Sharpens inside the mask: each pixel away from the mean around it, by so much of the distance. Means are weighed by
 * coverage as in a blur, so that no seam appears where the mask ends. Beside something bright it would go far below black:
 * a value stays within so many stops of the darkest and the brightest beside it.
 */
export const sharpen = defineCorrection<{ strength: number; size: number; beyond: number }>({
  works: 'area',
  kind: 'sharpen',
  label: 'Sharpen',
  group: 'area',
  hint: 'Brings out detail of a size inside the mask, without a seam at its edge.',
  numbers:
    'Moves each pixel away from the local mean, by a percentage of the difference, in linear light. Overshoot is how many stops a value may exceed its neighbours by; 20 means no limit.',
  fields: [strengthField(500, 60, { softMax: 200 }), sizeField(2, { min: 0.2, softMax: 20 }), beyondField(1)],
  idle: ({ strength }) => strength === 0,
  reach: ({ size }) => reachOf(size),
  apply(window, { size, strength, beyond }, out) {
    towardsMean(window, size, -strength / 100, out);
    for (const k of ['r', 'g', 'b'] as const) {
      const bounds = boundsOf(window.planes[k], window, beyond);
      if (bounds) holdWithin(out[k], bounds);
    }
  },
});
