/** Three rows of a 3x3 matrix. */
export type Matrix = readonly [readonly number[], readonly number[], readonly number[]];

/** First `b`, then `a`. */
export const product = (a: Matrix, b: Matrix): Matrix =>
  a.map((row) => [0, 1, 2].map((c) => row[0]! * b[0][c]! + row[1]! * b[1][c]! + row[2]! * b[2][c]!)) as never;

/** Three numbers through a matrix. */
export const through = (m: readonly (readonly number[])[], v: readonly number[]): [number, number, number] =>
  m.map((row) => row[0]! * v[0]! + row[1]! * v[1]! + row[2]! * v[2]!) as [number, number, number];

/** What undoes a matrix, by cofactors; not finite where nothing does. */
export function inverse(m: Matrix): Matrix {
  const at = (r: number, c: number) => m[r % 3]![c % 3]!;
  const cofactor = (r: number, c: number) =>
    at(r + 1, c + 1) * at(r + 2, c + 2) - at(r + 1, c + 2) * at(r + 2, c + 1);
  const determinant = at(0, 0) * cofactor(0, 0) + at(0, 1) * cofactor(0, 1) + at(0, 2) * cofactor(0, 2);
  return [0, 1, 2].map((r) => [0, 1, 2].map((c) => cofactor(c, r) / determinant)) as never;
}

/** The first `count` colours of three planes through a matrix, in place. */
export function throughMatrix(
  { r, g, b }: { r: Float32Array; g: Float32Array; b: Float32Array },
  count: number,
  m: Matrix,
): void {
  const [[a, c, d], [e, f, h], [k, l, n]] = m as [number[], number[], number[]];
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [r[i]!, g[i]!, b[i]!];
    r[i] = a! * x + c! * y + d! * z;
    g[i] = e! * x + f! * y + h! * z;
    b[i] = k! * x + l! * y + n! * z;
  }
}
