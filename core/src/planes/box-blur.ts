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

/** One pass along the rows, in place; beyond the ends the last pixel repeats. Sums have 64 bits. */
function alongRows(plane: Float32Array, width: number, height: number, { whole, rest }: Box): void {
  const norm = 1 / (2 * whole + 1 + 2 * rest);
  const pad = whole + 1;
  const row = new Float64Array(width + 2 * pad);
  for (let from = 0, y = 0; y < height; y++, from += width) {
    for (let x = 0; x < width; x++) row[x + pad] = plane[from + x]!;
    row.fill(row[pad]!, 0, pad);
    row.fill(row[pad + width - 1]!, pad + width);
    let sum = 0;
    for (let i = 1; i < 2 * pad; i++) sum += row[i]!;
    for (let x = 0; x < width; x++) {
      const [before, after] = [row[x]!, row[x + 2 * pad]!];
      plane[from + x] = (sum + rest * (before + after)) * norm;
      sum += after - row[x + 1]!;
    }
  }
}

/** One pass along the columns, in place. */
function alongColumns(plane: Float32Array, width: number, height: number, { whole, rest }: Box): void {
  const norm = 1 / (2 * whole + 1 + 2 * rest);
  const source = plane.slice();
  const rowAt = (y: number) => width * Math.min(height - 1, Math.max(0, y));
  const sums = new Float64Array(width);
  for (let y = -whole; y <= whole; y++)
    for (let x = 0, from = rowAt(y); x < width; x++) sums[x]! += source[from + x]!;
  for (let y = 0; y < height; y++) {
    const [before, after, gone] = [rowAt(y - whole - 1), rowAt(y + whole + 1), rowAt(y - whole)];
    for (let x = 0, to = y * width; x < width; x++) {
      const next = source[after + x]!;
      plane[to + x] = (sums[x]! + rest * (source[before + x]! + next)) * norm;
      sums[x]! += next - source[gone + x]!;
    }
  }
}

/** Blurs a plane in place by a box, across and down, so many times; beyond its border the last pixels repeat. */
export function boxBlur(plane: Float32Array, width: number, height: number, box: Box, times: number): void {
  if (box.whole === 0 && box.rest === 0) return;
  for (let i = 0; i < times; i++) {
    alongRows(plane, width, height, box);
    alongColumns(plane, width, height, box);
  }
}
