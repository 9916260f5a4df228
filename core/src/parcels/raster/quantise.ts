/** Noise of a place, always the same, evenly spread over 0 to 1: an integer hash (Wellons 2018). */
function noise(at: number): number {
  let x = (at + 1) | 0;
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad);
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97);
  return ((x ^ (x >>> 15)) >>> 0) / 2 ** 32;
}

/**
 * Values of 0 to 1 as whole numbers, clamped; values of 32 bits as they are.
 * @param dither spreads what is lost by noise of a triangle's shape, two steps wide (Lipshitz and others 1992), so that
 *   soft gradients do not fall into bands; what is exactly 0 or 1 stays
 */
export function quantise(
  values: Float32Array,
  depth: 8 | 16 | 32,
  dither: boolean,
): Uint8Array | Uint16Array | Float32Array {
  if (depth === 32) return values;
  const top = depth === 8 ? 255 : 65535;
  const out = depth === 8 ? new Uint8Array(values.length) : new Uint16Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!;
    // Also what is not a number.
    if (!(v > 0)) continue;
    if (v >= 1) {
      out[i] = top;
      continue;
    }
    const shake = dither ? noise(2 * i) + noise(2 * i + 1) - 1 : 0;
    out[i] = Math.min(top, Math.max(0, Math.round(v * top + shake)));
  }
  return out;
}
