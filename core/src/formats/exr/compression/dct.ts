/**
 * Half the cosine of 4, 1, 2, 3, 5, 6, 7 sixteenths of a half turn, to as many digits as the format's library has: with
 * more of them, sums near the middle between two halves would fall to the other side.
 */
const [A, B, C, D, E, F, G] = [
  3.535536e-1, 4.903927e-1, 4.619398e-1, 4.157349e-1, 2.777855e-1, 1.913422e-1, 9.754573e-2,
].map(Math.fround) as [number, number, number, number, number, number, number];

/** Eight numbers, `step` apart: even and odd parts by themselves, then their sums and differences. */
function line(v: Float32Array, at: number, step: number): void {
  const v0 = v[at]!;
  const v1 = v[at + step]!;
  const v2 = v[at + 2 * step]!;
  const v3 = v[at + 3 * step]!;
  const v4 = v[at + 4 * step]!;
  const v5 = v[at + 5 * step]!;
  const v6 = v[at + 6 * step]!;
  const v7 = v[at + 7 * step]!;
  const sum = Math.fround(A * (v0 + v4));
  const difference = Math.fround(A * (v0 - v4));
  const one = Math.fround(C * v2 + F * v6);
  const two = Math.fround(F * v2 - C * v6);
  const odd0 = Math.fround(B * v1 + D * v3 + E * v5 + G * v7);
  const odd1 = Math.fround(D * v1 - G * v3 - B * v5 - E * v7);
  const odd2 = Math.fround(E * v1 - B * v3 + G * v5 + D * v7);
  const odd3 = Math.fround(G * v1 - E * v3 + D * v5 - B * v7);
  const even0 = Math.fround(sum + one);
  const even1 = Math.fround(difference + two);
  const even2 = Math.fround(difference - two);
  const even3 = Math.fround(sum - one);
  v[at] = even0 + odd0;
  v[at + step] = even1 + odd1;
  v[at + 2 * step] = even2 + odd2;
  v[at + 3 * step] = even3 + odd3;
  v[at + 4 * step] = even3 - odd3;
  v[at + 5 * step] = even2 - odd2;
  v[at + 6 * step] = even1 - odd1;
  v[at + 7 * step] = even0 - odd0;
}

/** 8 by 8 inverse cosine transform, orthonormal, in place: rows, then columns, in 32 bits as writers expect it. */
export function inverseCosine(block: Float32Array): void {
  for (let y = 0; y < 8; y++) line(block, 8 * y, 1);
  for (let x = 0; x < 8; x++) line(block, x, 8);
}

/** Places of the coefficients of a block in the order in which they are stored: along the diagonals. */
export const ZIGZAG = ((): Uint8Array => {
  const order: number[] = [];
  for (let d = 0; d < 15; d++)
    for (let k = 0; k <= d; k++) {
      const [x, y] = d % 2 ? [d - k, k] : [k, d - k];
      if (x < 8 && y < 8) order.push(8 * y + x);
    }
  return Uint8Array.from(order);
})();
