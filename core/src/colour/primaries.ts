import { inverse, product, through, type Matrix } from './matrix.ts';
import { adaptXyz, FROM_XYZ } from './white.ts';

/** Chromaticities (CIE x, y) of a picture's red, green, blue and white. */
export interface Primaries {
  red: readonly [number, number];
  green: readonly [number, number];
  blue: readonly [number, number];
  white: readonly [number, number];
}

export const D65 = [0.3127, 0.329] as const;

/** Primaries that have a name: ITU-R BT.709, BT.2020, SMPTE EG 432-1 (P3 with D65), ACES (SMPTE ST 2065-1, S-2014-004). */
const KNOWN: readonly { name: string; primaries: Primaries }[] = [
  { name: 'Rec. 709', primaries: { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: D65 } },
  { name: 'P3', primaries: { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: D65 } },
  {
    name: 'Rec. 2020',
    primaries: { red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: D65 },
  },
  {
    name: 'ACEScg',
    primaries: { red: [0.713, 0.293], green: [0.165, 0.83], blue: [0.128, 0.044], white: [0.32168, 0.33767] },
  },
  {
    name: 'ACES',
    primaries: { red: [0.7347, 0.2653], green: [0, 1], blue: [0.0001, -0.077], white: [0.32168, 0.33767] },
  },
];

const flat = ({ red, green, blue, white }: Primaries) => [...red, ...green, ...blue, ...white];
const alike = (a: Primaries, b: Primaries) => {
  const other = flat(b);
  return flat(a).every((v, i) => Math.abs(v - other[i]!) < 0.0006);
};

/** What primaries are called, for people. */
export const primariesName = (p: Primaries): string =>
  KNOWN.find((k) => alike(k.primaries, p))?.name ?? 'primaries of its own';

/** Light in these primaries to CIE XYZ, white being Y = 1: SMPTE RP 177. */
function toXyz({ red, green, blue, white }: Primaries): Matrix {
  const xyz = ([x, y]: readonly [number, number]) => [x / y, 1, (1 - x - y) / y];
  const columns = [red, green, blue].map(([x, y]) => [x, y, 1 - x - y]);
  const m = [0, 1, 2].map((row) => columns.map((c) => c[row]!)) as unknown as Matrix;
  const back = inverse(m);
  const scale = through(back, xyz(white));
  return m.map((row) => row.map((v, i) => v * scale[i]!)) as unknown as Matrix;
}

/**
 * Three rows of the matrix from light in these primaries to Rec. 709, their white becoming its white (Bradford);
 * undefined where they are those already, or no light can have them.
 */
export function toRec709(p: Primaries): Matrix | undefined {
  if (alike(KNOWN[0]!.primaries, p)) return undefined;
  const m = product(FROM_XYZ, product(adaptXyz(p.white, D65), toXyz(p)));
  return m.flat().every(Number.isFinite) ? m : undefined;
}

/** How much red, green and blue light in these primaries, Rec. 709 by default, add to luminance: together 1. */
export const luminanceWeights = (p: Primaries = KNOWN[0]!.primaries): readonly [number, number, number] =>
  toXyz(p)[1] as unknown as readonly [number, number, number];
