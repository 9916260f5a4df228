import { defineEdgeStep } from './edge-step.ts';
import { moveEdge, reachOf } from '../../kernels/move-edge.ts';

/**
 * Moves the edge outwards by fractions of a pixel, or inwards below 0: each pixel takes the largest, or smallest,
 * coverage within the radius, read between pixels. Soft edges stay as soft as they are.
 */
export const grow = defineEdgeStep<{ by: number }>({
  kind: 'grow',
  label: 'Grow or shrink',
  short: 'Grow',
  hint: 'Moves the edge outwards, or inwards below 0, by fractions of a pixel.',
  fields: [
    {
      kind: 'number',
      key: 'by',
      label: 'By',
      unit: 'px',
      min: -50,
      max: 50,
      softMin: -8,
      softMax: 8,
      step: 0.1,
      neutral: 0,
      initial: 1,
    },
  ],
  reach: ({ by }) => reachOf(by),
  apply: (input, { by }, out) => moveEdge(input, by, out),
});
