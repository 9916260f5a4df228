import { through } from './matrix.ts';
import { TO_XYZ } from './white.ts';

/** A colour in CIE L*a*b*: lightness 0 to 100 for what reflects all light, and more for what shines. */
export type Lab = readonly [L: number, a: number, b: number];

/** The white of Rec. 709, D65, in CIE XYZ. */
const WHITE = TO_XYZ.map(([r, g, b]) => r! + g! + b!) as unknown as readonly [number, number, number];
const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;

/** Linear Rec. 709 as CIE L*a*b* against D65 (CIE 15:2018). What is below 0 counts as 0. */
export function rgbToLab(r: number, g: number, b: number): Lab {
  const [x, y, z] = through(TO_XYZ, [r, g, b]).map((v, i) => {
    const t = Math.max(0, v) / WHITE[i]!;
    return t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116;
  }) as [number, number, number];
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

const { hypot, sqrt, cos, sin, atan2, exp, abs, PI } = Math;
const degrees = (angle: number) => ((angle * 180) / PI + 360) % 360;
const cosOf = (angle: number) => cos((angle * PI) / 180);

/**
 * CIEDE2000: how different two colours look; 1 is about what is just seen side by side. Sharma, Wu and Dalal, "The
 * CIEDE2000 color-difference formula: implementation notes, supplementary test data, and mathematical observations", 2005.
 */
export function deltaE([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const mean7 = ((hypot(a1, b1) + hypot(a2, b2)) / 2) ** 7;
  const g = 1 + 0.5 * (1 - sqrt(mean7 / (mean7 + 25 ** 7)));
  const [c1, c2] = [hypot(g * a1, b1), hypot(g * a2, b2)];
  const hueOf = (a: number, b: number) => (a === 0 && b === 0 ? 0 : degrees(atan2(b, g * a)));
  const [h1, h2] = [hueOf(a1, b1), hueOf(a2, b2)];
  const grey = c1 * c2 === 0;
  const apart = abs(h2 - h1);
  const dh = grey ? 0 : apart <= 180 ? h2 - h1 : h2 <= h1 ? h2 - h1 + 360 : h2 - h1 - 360;
  const dH = 2 * sqrt(c1 * c2) * sin((dh * PI) / 360);
  const c = (c1 + c2) / 2;
  const sum = h1 + h2;
  const h = grey ? sum : apart <= 180 ? sum / 2 : (sum + (sum < 360 ? 360 : -360)) / 2;
  const t =
    1 - 0.17 * cosOf(h - 30) + 0.24 * cosOf(2 * h) + 0.32 * cosOf(3 * h + 6) - 0.2 * cosOf(4 * h - 63);
  const off = ((L1 + L2) / 2 - 50) ** 2;
  const dL = (L2 - L1) / (1 + (0.015 * off) / sqrt(20 + off));
  const dC = (c2 - c1) / (1 + 0.045 * c);
  const dT = dH / (1 + 0.015 * c * t);
  const turn = 60 * exp(-(((h - 275) / 25) ** 2));
  const rt = -2 * sqrt(c ** 7 / (c ** 7 + 25 ** 7)) * sin((turn * PI) / 180);
  return sqrt(dL * dL + dC * dC + dT * dT + rt * dC * dT);
}
