import { membersWithin as slotsWithin } from '@zesty-crow/core';
import { membersOf, type NamedId } from './members.ts';
import { ofLayer } from './question.ts';

/** Members inside a closed line of x, y, x, y … in pixels, or touched by it. */
export const membersWithin = ofLayer<
  { layer: string; line: number[]; which: 'inside' | 'touched' },
  NamedId[]
>({
  none: [],
  answerFrom: (layer, { open }, { line, which }) =>
    membersOf(open, layer, slotsWithin(layer.index, line, which)),
});
