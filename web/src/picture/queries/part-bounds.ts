import { boundsUnder, type Area } from '@zesty-crow/core';
import type { Question } from './question.ts';

/** The smallest rectangle around what a change's mask covers, in pixels. */
export const partBounds: Question<{ changeId: string; layer?: undefined }, Area | undefined> = {
  none: undefined,
  answer({ open }, { changeId }) {
    const mask = open.stack.mask(changeId);
    return mask && boundsUnder(mask);
  },
};
