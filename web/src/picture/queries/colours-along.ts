import { coloursAlong as spreadsAlong, type Axis, type Spread } from '@zesty-crow/core';
import type { Question } from './question.ts';

/** How the colours of a change's part, as rendered, are spread along an axis. */
export const coloursAlong: Question<
  {
    changeId: string;
    axis: Axis;
    channel: 'red' | 'green' | 'blue' | undefined;
    pieces: number;
    layer?: undefined;
  },
  Spread[]
> = {
  none: [],
  answer({ open }, { changeId, axis, channel, pieces }) {
    const mask = open.stack.mask(changeId);
    return mask ? spreadsAlong(open.planes, mask, axis, channel, pieces) : [];
  },
};
