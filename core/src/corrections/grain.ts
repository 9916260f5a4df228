import { defineCorrection } from './correction.ts';
import { strengthField } from './usual-fields.ts';

interface Values {
  strength: number;
  colour: number;
  seed: number;
}

/** A number from 0 to 1 that belongs to a pixel: a finaliser of MurmurHash3, which spreads every bit over all. */
function chanceAt(at: number, seed: number): number {
  let h = Math.imul(at + 1, 0x9e3779b1) ^ Math.imul(seed + 1, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Twelve chances less six would be a bell; four, stretched to a spread of 1, are near enough and bounded. */
function bellAt(at: number, seed: number): number {
  let sum = -2;
  for (let k = 0; k < 4; k++) sum += chanceAt(at, 4 * seed + k);
  return sum * Math.sqrt(3);
}

/**
 * Grain as film has it: each pixel is brighter or darker by chance, in stops, so that dark and bright parts are grainy
 * alike and nothing turns negative. The same pixel has the same grain whenever it is computed. In colour, channels are
 * by themselves as far as wanted.
 */
export const grain = defineCorrection<Values>({
  works: 'pixel',
  kind: 'grain',
  label: 'Grain',
  group: 'area',
  hint: 'Fine grain, so that what was corrected sits in a noisy picture.',
  fields: [
    strengthField(100, 15),
    { kind: 'number', key: 'colour', label: 'Colour', unit: '%', min: 0, max: 100, step: 1, neutral: 0 },
    { kind: 'number', key: 'seed', label: 'Seed', unit: '', min: 0, max: 9999, step: 1, neutral: 0 },
  ],
  idle: ({ strength }) => strength === 0,
  apply({ count, r, g, b, at }, { strength, colour, seed }) {
    const apart = colour / 100;
    for (let i = 0; i < count; i++) {
      const shared = bellAt(at[i]!, 7 * seed);
      [r, g, b].forEach((plane, k) => {
        const own = apart > 0 ? bellAt(at[i]!, 7 * seed + k + 1) : 0;
        // Half a stop is the spread at full strength.
        plane[i]! *= 2 ** (((strength / 100) * (shared * (1 - apart) + own * apart)) / 2);
      });
    }
  },
});
