/** A box of any width: so many whole pixels on either side, and a share of the one beyond. */
export interface Box {
  whole: number;
  rest: number;
}

/**
 * The box that spreads by a variance of exactly so many square pixels each time it is applied. Three of them are near to
 * a Gaussian: Gwosdek, Grewenig, Bruhn and Weickert, "Theoretical Foundations of Gaussian Convolution by Extended Box
 * Filtering", 2011, equations 10 and 11.
 */
export function boxOfVariance(v: number): Box {
  const whole = Math.floor(0.5 * Math.sqrt(12 * v + 1) - 0.5);
  return { whole, rest: ((2 * whole + 1) * (whole * (whole + 1) - 3 * v)) / (6 * (v - (whole + 1) ** 2)) };
}

/** Pixels that so many passes of a box reach. */
export const boxReach = ({ whole, rest }: Box, times: number): number => times * (whole + (rest > 0 ? 1 : 0));

/** One pass along the rows; they become shorter by what it reaches at both ends. Sums have 64 bits. */
function alongRows(plane: Float32Array, width: number, height: number, box: Box): Float32Array {
  const { whole, rest } = box;
  const norm = 1 / (2 * whole + 1 + 2 * rest);
  const reach = boxReach(box, 1);
  const across = width - 2 * reach;
  const out = new Float32Array(across * height);
  const ends = rest > 0;
  for (let y = 0, to = 0; y < height; y++) {
    let left = y * width + reach - whole;
    let right = left + 2 * whole + 1;
    let sum = 0;
    for (let i = left; i < right; i++) sum += plane[i]!;
    for (let x = 0; x < across; x++, left++, right++, to++) {
      const next = plane[right]!;
      out[to] = (ends ? sum + rest * (plane[left - 1]! + next) : sum) * norm;
      sum += next - plane[left]!;
    }
  }
  return out;
}

/** One pass along the columns. */
function alongColumns(plane: Float32Array, width: number, height: number, box: Box): Float32Array {
  const { whole, rest } = box;
  const norm = 1 / (2 * whole + 1 + 2 * rest);
  const reach = boxReach(box, 1);
  const down = height - 2 * reach;
  const out = new Float32Array(width * down);
  const ends = rest > 0;
  const sums = new Float64Array(width);
  const top = (reach - whole) * width;
  for (let i = top, x = 0; i < top + (2 * whole + 1) * width; i++) {
    sums[x]! += plane[i]!;
    if (++x === width) x = 0;
  }
  for (let y = 0, to = 0; y < down; y++) {
    let upper = top + y * width;
    let lower = upper + (2 * whole + 1) * width;
    for (let x = 0; x < width; x++, upper++, lower++, to++) {
      const sum = sums[x]!;
      // Of the last row what is beyond is not asked for.
      const next = lower < plane.length ? plane[lower]! : 0;
      out[to] = (ends ? sum + rest * (plane[upper - width]! + next) : sum) * norm;
      sums[x] = sum + next - plane[upper]!;
    }
  }
  return out;
}

/**
 * A plane blurred by a box, across and down, so many times: of it there is what does not look beyond its border, on
 * every side smaller by what the box reaches.
 */
export function boxBlur(
  plane: Float32Array,
  width: number,
  height: number,
  box: Box,
  times: number,
): Float32Array {
  if (box.whole === 0 && box.rest === 0) return plane.slice();
  const less = 2 * boxReach(box, 1);
  let out = plane;
  for (let i = 0; i < times; i++) out = alongRows(out, width - i * less, height, box);
  for (let i = 0; i < times; i++) out = alongColumns(out, width - times * less, height - i * less, box);
  return out;
}
