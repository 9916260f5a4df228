import { defineEdgeStep } from './edge-step.ts';
import { eachCovered } from '../../planes/each-covered.ts';

/** Makes a soft edge harder: coverage is pulled apart around one half, which stays. At 100 % every pixel is all or nothing. */
export const firm = defineEdgeStep<{ firmness: number }>({
  kind: 'firm',
  label: 'Firm up',
  hint: 'Makes a soft edge harder, where it is.',
  fields: [
    {
      kind: 'number',
      key: 'firmness',
      label: 'Firmness',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      neutral: 0,
      initial: 50,
    },
  ],
  reach: () => 0,
  apply(input, { firmness }, out) {
    const soft = 1 - firmness / 100;
    eachCovered(input, (c, to) => {
      out[to] = soft > 0 ? Math.min(1, Math.max(0, (c - 0.5) / soft + 0.5)) : c >= 0.5 ? 1 : 0;
    });
  },
});
