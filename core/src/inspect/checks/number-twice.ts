import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';

/** One number in two sets: which of them is meant? */
export const numberTwice: Check = {
  code: 'number-twice',
  title: 'Numbers that are there once',
  scope: 'frame',
  run: ({ layers }) =>
    layers.flatMap((layer): Finding[] => {
      const places = new Map<string, string[]>();
      for (const { channel, member, value } of layer.members ?? [])
        if (value === undefined) places.set(member, [...(places.get(member) ?? []), channel]);
      return [...places].flatMap(([member, channels]): Finding[] =>
        channels.length < 2
          ? []
          : [
              {
                severity: 'warning',
                code: 'number-twice',
                message: `${layer.name}: “${member}” is in ${channels.join(' and ')}; only the first is picked. Give the others another number or name.`,
              },
            ],
      );
    }),
};
