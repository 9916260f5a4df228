/**
 * IEEE 754 binary16 ("half"), kept as raw 16-bit patterns in Uint16Array.
 * Reading goes through one table of all 65,536 values; writing rounds to nearest, ties to even.
 */
const scratch = new Float32Array(1);
const scratchBits = new Uint32Array(scratch.buffer);

function expand(h: number): number {
  const sign = h & 0x8000 ? -1 : 1;
  const exponent = (h >> 10) & 31;
  const mantissa = h & 1023;
  if (exponent === 0) return sign * mantissa * 2 ** -24;
  if (exponent === 31) return mantissa ? NaN : sign * Infinity;
  return sign * (1 + mantissa / 1024) * 2 ** (exponent - 15);
}

let table: Float32Array | undefined;

/** The float value of every half bit pattern, indexed by the pattern. */
export function halfTable(): Float32Array {
  if (!table) {
    table = new Float32Array(65536);
    for (let h = 0; h < 65536; h++) table[h] = expand(h);
  }
  return table;
}

/** Nearest half bit pattern of a number; overflow becomes infinity, NaN stays NaN. */
export function toHalf(value: number): number {
  scratch[0] = value;
  const bits = scratchBits[0]!;
  const sign = (bits >>> 16) & 0x8000;
  const magnitude = bits & 0x7fffffff;
  if (magnitude > 0x7f800000) return sign | 0x7e00;
  if (magnitude >= 0x477ff000) return sign | 0x7c00;
  if (magnitude < 0x38800000) {
    // Subnormal halves are multiples of 2^-24; doubles hold the quotient exactly, so rounding is exact.
    const steps = Math.abs(scratch[0]!) * 16777216;
    const floor = Math.floor(steps);
    const rest = steps - floor;
    return sign | (floor + (rest > 0.5 || (rest === 0.5 && floor & 1) ? 1 : 0));
  }
  const rebased = magnitude - 0x38000000;
  const rounded = rebased + 0xfff + ((rebased >>> 13) & 1);
  return sign | (rounded >>> 13);
}

/** Halves to floats, element by element; `out` may be given to avoid an allocation. */
export function halvesToFloats(
  halves: Uint16Array,
  out: Float32Array = new Float32Array(halves.length),
): Float32Array {
  const values = halfTable();
  for (let i = 0; i < halves.length; i++) out[i] = values[halves[i]!]!;
  return out;
}

/** Floats to halves, element by element. */
export function floatsToHalves(floats: ArrayLike<number>): Uint16Array {
  const out = new Uint16Array(floats.length);
  for (let i = 0; i < floats.length; i++) out[i] = toHalf(floats[i]!);
  return out;
}
