import { defineCorrection } from './correction.ts';
import { sizeField, strengthField } from './usual-fields.ts';

interface Values {
  strength: number;
  size: number;
  colour: number;
  seed: number;
}

/** Half a stop is the spread at full strength; as an exponent of e. */
const FULL = 0.5 * Math.LN2;

/** A number from 0 to 1 that belongs to a key: a finaliser of MurmurHash3, which spreads every bit over all. */
function chanceAt(key: number, salt: number): number {
  let h = Math.imul(key + 1, 0x9e3779b1) ^ Math.imul(salt + 1, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Twelve chances less six would be a bell; four, stretched to a spread of 1, are near enough and bounded. */
function bellAt(key: number, salt: number): number {
  let sum = -2;
  for (let k = 0; k < 4; k++) sum += chanceAt(key, 4 * salt + k);
  return sum * Math.sqrt(3);
}

/**
 * Chances of spread 1 all over a picture, whose neighbours are alike over `size` pixels: those of a lattice, weighed by
 * how near its four points are, and stretched to the same spread everywhere. At 1 px every pixel is by itself.
 */
function field(size: number): (x: number, y: number, salt: number) => number {
  // Rows are farther apart than any picture is wide.
  const keyOf = (x: number, y: number) => Math.imul(y, 0x10001) + x;
  if (size <= 1) return (x, y, salt) => bellAt(keyOf(x, y), salt);
  const eased = (t: number) => t * t * (3 - 2 * t);
  return (x, y, salt) => {
    const [gx, gy] = [(x + 0.5) / size, (y + 0.5) / size];
    const [x0, y0] = [Math.floor(gx), Math.floor(gy)];
    const [u, v] = [eased(gx - x0), eased(gy - y0)];
    let [sum, squares] = [0, 0];
    for (let k = 0; k < 4; k++) {
      const [right, down] = [k & 1, k >> 1];
      const weight = (right ? u : 1 - u) * (down ? v : 1 - v);
      sum += weight * bellAt(keyOf(x0 + right, y0 + down), salt);
      squares += weight * weight;
    }
    return sum / Math.sqrt(squares);
  };
}

/**
 * Grain as film has it: each pixel is brighter or darker by chance, in stops, so that dark and bright parts are grainy
 * alike and nothing turns negative. The mean of the light stays: what is spread in stops would be brighter by
 * exp(s²/2), s being the spread as an exponent of e (the mean of a log-normal distribution), and is made darker by that.
 * The same pixel of the same frame has the same grain whenever it is computed, in another frame another. In colour,
 * channels are by themselves as far as wanted, at the same spread.
 */
export const grain = defineCorrection<Values>({
  works: 'pixel',
  kind: 'grain',
  label: 'Grain',
  group: 'area',
  hint: 'Adds film grain that differs in every frame.',
  numbers:
    'Multiplies the light by 2 to the power of a random number. 1 % is a standard deviation of 0.005 stops. The mean is preserved, and every frame differs.',
  revision: 2,
  fields: [
    strengthField(100, 15),
    sizeField(1, { min: 1, max: 20, softMax: 6 }),
    { kind: 'number', key: 'colour', label: 'Colour', unit: '%', min: 0, max: 100, step: 1, neutral: 0 },
    { kind: 'number', key: 'seed', label: 'Seed', unit: '', min: 0, max: 9999, step: 1, neutral: 0 },
  ],
  idle: ({ strength }) => strength === 0,
  apply({ count, r, g, b, at, rendered }, { strength, size, colour, seed }) {
    const { width, frameNumber = 0 } = rendered;
    const [shared, apart] = [1 - colour / 100, colour / 100];
    const spread = (FULL * strength) / 100;
    const stretch = spread / Math.hypot(shared, apart);
    const chance = field(size);
    const planes = [r, g, b];
    const darker = (spread * spread) / 2;
    // One for what the channels share and one for each of them, by seed and frame.
    const salt = 4 * (seed + 10_000 * frameNumber);
    for (let i = 0; i < count; i++) {
      const x = at[i]! % width;
      const y = (at[i]! - x) / width;
      const own = shared > 0 ? shared * chance(x, y, salt) : 0;
      for (let k = 0; k < 3; k++) {
        const all = apart > 0 ? own + apart * chance(x, y, salt + k + 1) : own;
        planes[k]![i]! *= Math.exp(stretch * all - darker);
      }
    }
  },
});
