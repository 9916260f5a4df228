import { middleOfMember, type Point } from '@zesty-crow/core';
import type { Question } from './question.ts';

/** Where a member's middle is, in percent of the picture. */
export const middleOf: Question<{ layer: string; member: string }, Point | undefined> = {
  none: undefined,
  answer: ({ open }, { layer, member }) =>
    middleOfMember(
      open.cast.find((l) => l.name === layer),
      member,
      open.planes,
    ),
};
