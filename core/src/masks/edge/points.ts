import { defineEdgeStep } from './edge-step.ts';
import { eachCovered } from '../../planes/each-covered.ts';

const percent = (key: string, label: string, neutral: number, initial: number) =>
  ({ kind: 'number', key, label, unit: '%', min: 0, max: 100, step: 1, neutral, initial }) as const;

/** Coverage up to the black point becomes none, from the white point on whole, and what lies between is stretched. */
export const points = defineEdgeStep<{ black: number; white: number }>({
  kind: 'points',
  label: 'Black and white point',
  short: 'Points',
  hint: 'Takes away thin coverage, and makes whole what is nearly so.',
  fields: [percent('black', 'Black', 0, 10), percent('white', 'White', 100, 90)],
  reach: () => 0,
  apply(input, { black, white }, out) {
    const from = black / 100;
    const room = Math.max(1e-6, white / 100 - from);
    eachCovered(input, (c, to) => (out[to] = Math.min(1, Math.max(0, (c - from) / room))));
  },
});
