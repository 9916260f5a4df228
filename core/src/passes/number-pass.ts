import { makeNumberedLayer } from '../idlayers/numbered.ts';
import { isolatedBy } from './by.ts';
import { channelOf, textOf, type PassKind, type Values } from './pass.ts';
import type { Roster } from '../roster/roster.ts';

const of = (v: Values) => textOf(v, 'of', 'objects') as 'objects' | 'materials';
const channel = (v: Values) => `${of(v) === 'objects' ? 'object' : 'material'}Number.Y`;
const memberOf = (number: number) => String(number).padStart(2, '0');
/** The number that each part of the roster has in a number pass; 0 for none. */
export const numbersOf = (v: Values, roster: Roster): number[] =>
  roster.parts.map((p) =>
    of(v) === 'objects' ? roster.objects[p.object]!.number : roster.materials[p.material]!.number,
  );

const layer = (v: Values) => `Numbers of ${of(v)}`;

/** Each pixel holds the one number that covers most of it. */
export const numberPass: PassKind = {
  kind: 'number-pass',
  label: 'Number pass',
  group: 'ids',
  hint: 'One whole number a pixel, without soft edges.',
  fields: [
    {
      kind: 'choice',
      key: 'of',
      label: 'Numbers of',
      options: [
        { value: 'objects', label: 'objects' },
        { value: 'materials', label: 'materials' },
      ],
      neutral: 'objects',
    },
  ],
  title: (v) => `Number pass of ${of(v)}`,
  gather: () => ({ ids: true }),
  channels: (v) => [{ name: channel(v), type: 'float' }],
  layer,
  isolates: (v, roster) => isolatedBy(numbersOf(v, roster).map((n) => (n > 0 ? memberOf(n) : undefined))),
  fault(v, roster) {
    const list = of(v) === 'objects' ? roster.objects : roster.materials;
    const without = list.filter((e) => e.number === 0).length;
    if (without === list.length)
      return {
        severity: 'error',
        message: `none of the ${of(v)} has a number. Number them, or remove the pass.`,
      };
    return without
      ? { severity: 'warning', message: `${without} of the ${of(v)} have no number and will be 0.` }
      : undefined;
  },
  make(v, { film, roster, place }) {
    const list = numbersOf(v, roster);
    const plane = film.dominant(Float32Array.from(place, (p) => list[p] ?? 0));
    const used = [...new Set(list)].filter((n) => n > 0).sort((a, b) => a - b);
    return {
      channels: [channelOf(channel(v), plane, 'float')],
      attributes: [
        makeNumberedLayer({
          layer: layer(v),
          kind: 'number-pass',
          members: used.map((value) => ({ channel: channel(v), member: memberOf(value), value })),
        }),
      ],
    };
  },
};
