/**
 * The sRGB transfer functions of IEC 61966-2-1 between scene-linear and display values, 0 to 1.
 * Negative inputs are mirrored, so that nothing is lost before a clamp.
 */
export function linearToSrgb(v: number): number {
  const a = Math.abs(v);
  const e = a <= 0.0031308 ? 12.92 * a : 1.055 * Math.pow(a, 1 / 2.4) - 0.055;
  return v < 0 ? -e : e;
}

export function srgbToLinear(v: number): number {
  const a = Math.abs(v);
  const e = a <= 0.04045 ? a / 12.92 : Math.pow((a + 0.055) / 1.055, 2.4);
  return v < 0 ? -e : e;
}

const STEPS = 4096;
let roots: Float32Array | undefined;

/**
 * Display value 0 to 255 (not rounded) of a scene-linear value through a table over its square root, in which the
 * sRGB curve is nearly straight: within 0.01 of the formula. Values outside 0 to 1 are clamped, NaN becomes 0.
 */
export function displayByte(v: number): number {
  if (!(v > 0)) return 0;
  if (v >= 1) return 255;
  if (!roots) {
    roots = new Float32Array(STEPS + 2);
    for (let i = 0; i < roots.length; i++) roots[i] = 255 * linearToSrgb(Math.min(1, (i / STEPS) ** 2));
  }
  const x = Math.sqrt(v) * STEPS;
  const i = x | 0;
  return roots[i]! + (roots[i + 1]! - roots[i]!) * (x - i);
}
