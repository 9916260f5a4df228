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

/**
 * Chromaticity (x, y) of a glowing body: Krystek's approximation of the Planckian locus in CIE 1960 (u, v), 1985, good
 * to 8e-5 from 1000 to 15000 K. `tint` moves it off the locus, square to it, by so much of (u, v): greener above 0.
 */
export function whiteOf(kelvin: number, tint = 0): [x: number, y: number] {
  const locus = (t: number): [number, number] => [
    (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) /
      (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
    (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) /
      (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t),
  ];
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

/** The same on linear Rec. 709. */
export const adaptation = (
  from: readonly [number, number],
  to: readonly [number, number],
  cones?: Cones,
): Matrix => product(FROM_XYZ, product(adaptXyz(from, to, cones), TO_XYZ));
