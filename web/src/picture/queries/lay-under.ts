import type { Question } from './question.ts';

/** A picture to lay cut-outs on, as large as the frame, RGBA; none takes it away. */
export const layUnder: Question<{ data: Uint8ClampedArray | undefined; layer?: undefined }, undefined> = {
  none: undefined,
  answer(desk, { data }) {
    desk.layUnder(data);
    return undefined;
  },
};
