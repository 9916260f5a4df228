import { scopeOf, type Counts } from '@zesty-crow/core';
import type { SamplePlace } from '../messages.ts';
import type { Question } from './question.ts';
import { regionOf } from './region.ts';

/** How colours are spread, of the corrected picture: everywhere, under a change's mask, or around a pixel. */
export const scope: Question<
  {
    name: string;
    where: 'frame' | SamplePlace;
    /** Of about so many pixels at most: few while values move. */
    most: number;
    layer?: undefined;
  },
  Counts | undefined
> = {
  none: undefined,
  answer({ open }, { name, where, most }) {
    const region = regionOf(open, where);
    return region && scopeOf(name)?.count(open.stack.result, region, most);
  },
};
