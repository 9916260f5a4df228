/** A look-up table of a `.cube` file: values of one channel, or of all three together. */
export interface CubeTable {
  title: string;
  dimensions: 1 | 3;
  size: number;
  /** What stands at the table's beginning and end, for each channel. */
  from: readonly [number, number, number];
  to: readonly [number, number, number];
  /** r, g, b; of three dimensions red changes fastest. */
  data: Float32Array;
}

/** A `.cube` file that cannot be used; the message says why, and in which line. */
export class CubeError extends Error {
  override name = 'CubeError';
  readonly code = 'cube-invalid';
}

const MOST = { 1: 65536, 3: 129 } as const;

/** Reads a `.cube` file (Cube LUT Specification 1.0). Throws {@link CubeError}. */
export function parseCube(text: string): CubeTable {
  let title = '';
  let [dimensions, size]: [1 | 3 | 0, number] = [0, 0];
  let from: [number, number, number] = [0, 0, 0];
  let to: [number, number, number] = [1, 1, 1];
  const values: number[] = [];
  text.split(/\r\n|\r|\n/).forEach((raw, i) => {
    const line = raw.trim();
    const fail = (why: string): never => {
      throw new CubeError(`Line ${i + 1} ${why}.`);
    };
    if (line === '' || line.startsWith('#')) return;
    const [word = '', ...rest] = line.split(/\s+/);
    const numbers = () => {
      const found = rest.map(Number);
      return found.length === 3 && found.every(Number.isFinite)
        ? (found as [number, number, number])
        : fail(`needs three numbers after ${word}`);
    };
    if (word === 'TITLE') title = line.replace(/^TITLE\s*/, '').replace(/^"|"$/g, '');
    else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      if (dimensions) fail('says a second time how large the table is');
      dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
      size = Number(rest[0]);
      if (!Number.isInteger(size) || size < 2 || size > MOST[dimensions])
        fail(`must give a size from 2 to ${MOST[dimensions]}`);
    } else if (word === 'DOMAIN_MIN') from = numbers();
    else if (word === 'DOMAIN_MAX') to = numbers();
    else if (/^[A-Z_]/.test(word)) return;
    else {
      const found = line.split(/\s+/).map(Number);
      if (found.length !== 3 || !found.every(Number.isFinite)) fail('must hold three numbers');
      if (dimensions && values.length >= 3 * (dimensions === 1 ? size : size ** 3))
        fail('is one more than its table should have');
      values.push(...found);
    }
  });
  if (!dimensions)
    throw new CubeError('It does not say how large its table is (LUT_1D_SIZE or LUT_3D_SIZE).');
  const wanted = dimensions === 1 ? size : size ** 3;
  if (values.length !== 3 * wanted)
    throw new CubeError(`Its table should have ${wanted} lines, but has ${values.length / 3}.`);
  if (!from.every((v, k) => v < to[k]!)) throw new CubeError('DOMAIN_MIN must be below DOMAIN_MAX.');
  return { title, dimensions, size, from, to, data: Float32Array.from(values) };
}

/**
 * Looks three values up, between the entries linearly (trilinear in three dimensions); beyond the ends it is the last.
 * @param out written
 */
export function lookUp(table: CubeTable, r: number, g: number, b: number, out: Float32Array): void {
  const { size, from, to, data, dimensions } = table;
  const last = size - 1;
  const place = (v: number, k: number) => {
    const x = ((v - from[k]!) / (to[k]! - from[k]!)) * last;
    return x > 0 ? Math.min(last, x) : 0;
  };
  const [x, y, z] = [place(r, 0), place(g, 1), place(b, 2)];
  if (dimensions === 1) {
    [x, y, z].forEach((p, k) => {
      const i = Math.min(last - 1, Math.floor(p));
      const a = data[3 * i + k]!;
      out[k] = a + (data[3 * i + 3 + k]! - a) * (p - i);
    });
    return;
  }
  const [i, j, l] = [x, y, z].map((p) => Math.min(last - 1, Math.floor(p))) as [number, number, number];
  const [u, v, w] = [x - i, y - j, z - l];
  const [dy, dz] = [3 * size, 3 * size * size];
  const at = 3 * i + dy * j + dz * l;
  for (let k = 0; k < 3; k++) {
    const of = (p: number) => data[p + k]! + (data[p + 3 + k]! - data[p + k]!) * u;
    const near = of(at) + (of(at + dy) - of(at)) * v;
    const far = of(at + dz) + (of(at + dz + dy) - of(at + dz)) * v;
    out[k] = near + (far - near) * w;
  }
}
