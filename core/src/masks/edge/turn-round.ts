import { defineEdgeStep } from './edge-step.ts';
import { eachCovered } from '../../planes/each-covered.ts';

/** Inverts a mask: what was covered is not, and what was not is. */
export const turnRound = defineEdgeStep<Record<never, never>>({
  kind: 'turn-round',
  label: 'Invert',
  hint: 'Takes everything but what is picked.',
  fields: [],
  reach: () => 0,
  ofNothing: () => 1,
  complements: true,
  apply: (input, _values, out) => eachCovered(input, (c, to) => (out[to] = 1 - c)),
});
