import { boundsUnder, smallPicture, type ListedChange } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import { stackBeside } from '../open-frame.ts';
import type { Question } from './question.ts';

/** What some corrections would make of a change's part, as a small picture around it. */
export const tried: Question<
  { change: ListedChange; side: number; layer?: undefined },
  PassPicture | undefined
> = {
  none: undefined,
  answer(desk, { change, side }) {
    const { open } = desk;
    const mask = open.stack.mask(change.id);
    const area = mask && boundsUnder(mask);
    if (!area) return undefined;
    return desk.aside(async () => {
      const stack = (open.trial ??= stackBeside(open, desk.crew));
      await desk.computeBeside(stack, [{ ...change, on: true }]);
      return smallPicture(stack.result, area, side, desk.display());
    });
  },
};
