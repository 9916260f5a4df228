import { inverse, product, through, type Matrix } from './matrix.ts';

/** Linear Rec. 709 to CIE XYZ and back (IEC 61966-2-1, with the digits of CSS Color 4). */
export const TO_XYZ: Matrix = [
  [0.41239079926595934, 0.357584339383878, 0.1804807884018343],
  [0.21263900587151027, 0.715168678767756, 0.07219231536073371],
  [0.01933081871559182, 0.11919477979462598, 0.9505321522496607],
];
export const FROM_XYZ: Matrix = [
  [3.2409699419045226, -1.537383177570094, -0.4986107602930034],
  [-0.9692436362808796, 1.8759675015077202, 0.04155505740717559],
  [0.05563007969699366, -0.20397695888897652, 1.0569715142428786],
];
/** Responses of cones to CIE XYZ, in which a light's colour is taken out. */
const CONES: Readonly<Record<Cones, Matrix>> = {
  // Lam 1985; ICC.1:2010, annex E.
  bradford: [
    [0.8951, 0.2664, -0.1614],
    [-0.7502, 1.7135, 0.0367],
    [0.0389, -0.0685, 1.0296],
  ],
  // Li and others 2017, "Comprehensive color solutions: CAM16, CAT16, and CAM16-UCS".
  cat16: [
    [0.401288, 0.650173, -0.051461],
    [-0.250268, 1.204414, 0.045854],
    [-0.002079, 0.048952, 0.953127],
  ],
};
export type Cones = 'bradford' | 'cat16';

/** White of Rec. 709: D65, to the digits of its matrix. */
export const REC709_WHITE: readonly [x: number, y: number] = (() => {
  const [x, y, z] = TO_XYZ.map((row) => row[0]! + row[1]! + row[2]!) as [number, number, number];
  return [x / (x + y + z), y / (x + y + z)];
})();

type Uv = [u: number, v: number];

/** CIE 1960 (u, v) from CIE (x, y). */
const toUv = (x: number, y: number): Uv => {
  const d = 12 * y - 2 * x + 3;
  return [(4 * x) / d, (6 * y) / d];
};

/**
 * A black body, by powers of 1000 K over its temperature: least squares of Planck's law as the CIE 1931 standard
 * observer sees it, good to 2e-5 from 1400 to 5000 K.
 */
function blackBody(t: number): Uv {
  const m = 1000 / t;
  const sum = (by: readonly number[]) => by.reduceRight((total, c) => total * m + c, 0);
  return [
    sum([0.183197, -0.024745, 1.120562, -1.689617, 1.233312, -0.378534]),
    sum([0.244085, 0.554726, -0.881252, 0.367797, 0.32384, -0.264514]),
  ];
}

/** Daylight: CIE 15:2004, formulae 3.3 to 3.5, from 4000 to 25000 K. */
function cieDaylight(t: number): Uv {
  const [a, b, c, d] =
    t <= 7000 ? [0.244063, 0.09911e3, 2.9678e6, -4.607e9] : [0.23704, 0.24748e3, 1.9018e6, -2.0064e9];
  const x = a + b / t + c / t ** 2 + d / t ** 3;
  return toUv(x, -3 * x * x + 2.87 * x - 0.275);
}

/** The daylight that is called 6500 K is 7e-5 of (u, v) off D65, which it stands for. */
const OFF = (() => {
  const [[u, v], [gu, gv]] = [cieDaylight(6500), toUv(...REC709_WHITE)];
  return [gu - u, gv - v] as const;
})();
function daylight(t: number): Uv {
  const [u, v] = cieDaylight(t);
  return [u + OFF[0], v + OFF[1]];
}

/** Up to the first a temperature names a black body, from the second on daylight. */
const [BLACK_BODY, DAYLIGHT] = [4000, 5000];

function locus(t: number): Uv {
  const share = Math.min(1, Math.max(0, (t - BLACK_BODY) / (DAYLIGHT - BLACK_BODY)));
  const eased = share * share * (3 - 2 * share);
  if (eased === 0) return blackBody(t);
  if (eased === 1) return daylight(t);
  const [[u, v], [du, dv]] = [blackBody(t), daylight(t)];
  return [u + eased * (du - u), v + eased * (dv - v)];
}

/**
 * Chromaticity (x, y) of the light that a temperature names: a black body up to 4000 K, as flames and lamps are, daylight
 * from 5000 K on, and a blend of the two in between. `tint` moves it off that line, square to it, by so much of CIE 1960
 * (u, v): greener above 0.
 */
export function lightOf(kelvin: number, tint = 0): [x: number, y: number] {
  let [u, v] = locus(kelvin);
  if (tint !== 0) {
    const [u1, v1] = locus(kelvin * 1.01);
    const along = Math.hypot(u1 - u, v1 - v);
    // Hotter is to the left; square to that, upwards, is green.
    const [du, dv] = [(v1 - v) / along, -(u1 - u) / along];
    u += tint * du * Math.sign(dv);
    v += tint * Math.abs(dv);
  }
  const d = 2 * u - 8 * v + 4;
  return [(3 * u) / d, (2 * v) / d];
}

/**
 * The temperature and tint that name a light, the other way round of {@link lightOf}: those that give it.
 * @param chromaticity of the light, CIE (x, y)
 * @param from lowest temperature that is looked at, in kelvin
 * @param to highest
 */
export function namedLight(
  [x, y]: readonly [number, number],
  from: number,
  to: number,
): { kelvin: number; tint: number } {
  const [u, v] = toUv(x, y);
  const away = (t: number) => {
    const [a, b] = locus(t);
    return Math.hypot(u - a, v - b);
  };
  // Even steps of 1/T are about even to the eye; between the best of them and its neighbours there is one least distance.
  const STEPS = 200;
  const at = (i: number) => 1 / (1 / from + (i / STEPS) * (1 / to - 1 / from));
  let best = 0;
  for (let i = 1; i <= STEPS; i++) if (away(at(i)) < away(at(best))) best = i;
  let [low, high] = [at(Math.max(0, best - 1)), at(Math.min(STEPS, best + 1))];
  for (let i = 0; i < 60; i++) {
    const third = (high - low) / 3;
    if (away(low + third) < away(high - third)) high -= third;
    else low += third;
  }
  const nearest = (low + high) / 2;
  const distance = away(nearest);
  const off = (kelvin: number, tint: number): Uv => {
    const [gu, gv] = toUv(...lightOf(kelvin, tint));
    return [gu - u, gv - v];
  };
  const greener = Math.hypot(...off(nearest, distance)) < Math.hypot(...off(nearest, -distance));
  // Where the line bends, its square is not quite what is nearest: Newton's method does the rest.
  let [kelvin, tint] = [nearest, greener ? distance : -distance];
  for (let i = 0; i < 6; i++) {
    const [dk, dt] = [kelvin * 1e-4, 1e-6];
    const own = off(kelvin, tint);
    const [a, b] = [off(kelvin + dk, tint), off(kelvin, tint + dt)];
    const [ku, kv, tu, tv] = [
      (a[0] - own[0]) / dk,
      (a[1] - own[1]) / dk,
      (b[0] - own[0]) / dt,
      (b[1] - own[1]) / dt,
    ];
    const det = ku * tv - kv * tu;
    if (Math.abs(det) < 1e-12) break;
    kelvin = Math.min(to, Math.max(from, kelvin - (own[0] * tv - own[1] * tu) / det));
    tint -= (ku * own[1] - kv * own[0]) / det;
  }
  return { kelvin, tint };
}

/**
 * Takes the colour of one light out and puts that of another in: von Kries in cones, on CIE XYZ.
 * @param from chromaticity of the light as it is
 * @param to what shall become of it
 */
export function adaptXyz(
  from: readonly [number, number],
  to: readonly [number, number],
  cones: Cones = 'bradford',
): Matrix {
  const m = CONES[cones];
  const xyz = ([x, y]: readonly [number, number]) => [x / y, 1, (1 - x - y) / y];
  const [a, b] = [through(m, xyz(from)), through(m, xyz(to))];
  const scale: Matrix = [
    [b[0]! / a[0]!, 0, 0],
    [0, b[1]! / a[1]!, 0],
    [0, 0, b[2]! / a[2]!],
  ];
  return product(inverse(m), product(scale, m));
}

/** Chromaticity of a light after the light of `from` has become that of `to`. */
export function adaptedLight(
  [x, y]: readonly [number, number],
  from: readonly [number, number],
  to: readonly [number, number],
): [x: number, y: number] {
  const [a, b, c] = through(adaptXyz(from, to), [x / y, 1, (1 - x - y) / y]);
  const sum = a + b + c;
  return [a / sum, b / sum];
}

/** The same on linear Rec. 709. */
export const adaptation = (
  from: readonly [number, number],
  to: readonly [number, number],
  cones?: Cones,
): Matrix => product(FROM_XYZ, product(adaptXyz(from, to, cones), TO_XYZ));
