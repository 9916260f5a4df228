import { partsOfWho } from '../roster/roster.ts';
import { makeNumberedLayer } from '../idlayers/numbered.ts';
import { bufferName, inFilm, whoFault } from './object-buffer.ts';
import type { Rgb } from '../scene/scene.ts';
import { channelOf, numberOf, whoOf, whoTitle, type PassKind, type Values } from './pass.ts';

export const PUZZLE_LAYER = 'Puzzle mattes';
const SLOTS = [
  { key: 'r', letter: 'R', label: 'Red' },
  { key: 'g', letter: 'G', label: 'Green' },
  { key: 'b', letter: 'B', label: 'Blue' },
] as const;

const picture = (v: Values) => `puzzle_${numberOf(v, 'set', 1)}`;
const filled = (v: Values) => SLOTS.filter((s) => whoOf(v, s.key) !== undefined);

/** Three coverages in the red, green and blue of one picture. */
export const puzzleMatte: PassKind = {
  kind: 'puzzle-matte',
  label: 'Puzzle matte',
  group: 'ids',
  hint: 'Three things in one picture, in its red, green and blue. Small, but only three.',
  fields: [
    { kind: 'number', key: 'set', label: 'Picture', unit: '', min: 1, max: 99, step: 1, neutral: 1 },
    ...SLOTS.map((s) => ({ kind: 'who' as const, key: s.key, label: s.label, optional: true })),
  ],
  title: (v) =>
    [
      `Puzzle matte ${numberOf(v, 'set', 1)}`,
      filled(v)
        .map((s) => whoTitle(whoOf(v, s.key)))
        .join(', '),
    ]
      .filter(Boolean)
      .join(': '),
  gather: () => ({ ids: true }),
  channels: (v) => SLOTS.map((s) => ({ name: `${picture(v)}.${s.letter}`, type: 'float' as const })),
  layer: () => PUZZLE_LAYER,
  isolates: (v, roster) =>
    filled(v).map((s) => {
      const who = whoOf(v, s.key)!;
      return { member: bufferName(who), parts: partsOfWho(who, roster) };
    }),
  memberColours: (v) => filled(v).map((s) => SLOTS.map((slot) => (slot === s ? 1 : 0)) as unknown as Rgb),
  fault(v, roster) {
    if (filled(v).length === 0)
      return { severity: 'error', message: 'all three slots are empty. Say what they shall show.' };
    for (const s of filled(v)) {
      const fault = whoFault(whoOf(v, s.key), roster);
      if (fault) return { ...fault, message: `${s.label.toLowerCase()}: ${fault.message}` };
    }
    return undefined;
  },
  make(v, source) {
    const sets = source.place.map((): number[] => []);
    for (const s of filled(v))
      inFilm(source, partsOfWho(whoOf(v, s.key)!, source.roster)).forEach(
        (is, part) => is && sets[part]!.push(SLOTS.indexOf(s)),
      );
    const planes = source.film.coverage(sets, 3);
    return {
      channels: SLOTS.map((s, i) => channelOf(`${picture(v)}.${s.letter}`, planes[i]!, 'float')),
      attributes: [
        makeNumberedLayer({
          layer: PUZZLE_LAYER,
          kind: 'puzzle-matte',
          members: filled(v).map((s) => ({
            channel: `${picture(v)}.${s.letter}`,
            member: bufferName(whoOf(v, s.key)),
          })),
        }),
      ],
    };
  },
};
