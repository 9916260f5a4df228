import { meansIn } from '@zesty-crow/core';
import type { SamplePlace, SampleValues } from '../messages.ts';
import type { Question } from './question.ts';
import { regionOf } from './region.ts';

/** Means at places, before and after corrections. */
export const samples: Question<{ places: readonly SamplePlace[]; layer?: undefined }, SampleValues[]> = {
  none: [],
  answer: ({ open }, { places }) =>
    places.map((place) => {
      const region = regionOf(open, place);
      const means = region && meansIn([open.planes, open.stack.result], region);
      return means && { before: means[0]!, after: means[1]! };
    }),
};
