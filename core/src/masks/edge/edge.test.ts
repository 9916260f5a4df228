import fc from 'fast-check';
import { edgeStepOf, EDGE_STEPS } from './registry.ts';
import { leavesAll } from './edge-step.ts';
import { fillIslands } from './islands.ts';
import { moveEdge, moveEdgePlain, reachOf } from '../../kernels/move-edge.ts';
import { runs } from '../../../test/runs.ts';
import { initialValues, wholeValues } from '../../fields/values.ts';

/** A step over a whole mask; beyond its border the last pixels repeat. */
function refined(
  kind: string,
  values: Record<string, number>,
  size: number,
  mask: (x: number, y: number) => number,
): (x: number, y: number) => number {
  const step = edgeStepOf(kind)!;
  const all = wholeValues(step.fields, values);
  const margin = Math.ceil(step.reach(all));
  const w = size + 2 * margin;
  const clamp = (v: number) => Math.min(size - 1, Math.max(0, v - margin));
  const coverage = Float32Array.from({ length: w * w }, (_, i) =>
    mask(clamp(i % w), clamp(Math.floor(i / w))),
  );
  const out = new Float32Array(size * size);
  step.apply({ area: { x0: 0, y0: 0, x1: size, y1: size }, margin, coverage }, all, out);
  return (x, y) => out[y * size + x]!;
}
const clip = (v: number) => Math.min(1, Math.max(0, v));
/** Coverage summed along a row: where the edge is, in pixels. */
const along = (size: number, at: (x: number, y: number) => number, y: number) => {
  let sum = 0;
  for (let x = 0; x < size; x++) sum += at(x, y);
  return sum;
};
const SIZE = 64;
const edges = {
  straight: (x: number) => clip(30.3 - x),
  soft: (x: number) => clip((34 - x) / 8),
};

describe('grow', () => {
  test.each([0.25, 0.5, 1, 2.5, 6, -0.25, -0.5, -1, -2.5, -6])(
    'moves straight and soft edges by %f pixels',
    (by) => {
      for (const mask of Object.values(edges)) {
        const moved = along(SIZE, refined('grow', { by }, SIZE, mask), 32) - along(SIZE, mask, 32);
        expect(moved / by).toBeGreaterThan(0.93);
        expect(moved / by).toBeLessThan(1.07);
      }
    },
  );
  test('keeps a soft edge as soft as it is', () => {
    const at = refined('grow', { by: 3 }, SIZE, edges.soft);
    for (let x = 0; x < SIZE; x++) expect(at(x, 32)).toBeCloseTo(edges.soft(x - 3), 5);
  });
  test('moves a round edge outwards all around', () => {
    const disc = (x: number, y: number) => clip(15.5 - Math.hypot(x - 32, y - 32));
    const at = refined('grow', { by: 2 }, SIZE, disc);
    let area = 0;
    for (let y = 0; y < SIZE; y++) area += along(SIZE, at, y);
    expect(Math.sqrt(area / Math.PI)).toBeCloseTo(17, 0);
    expect(Math.abs(Math.sqrt(area / Math.PI) - 17)).toBeLessThan(0.15);
  });
  test('a larger radius takes in a smaller one’s, up to what lies between pixels', () => {
    const mask = (x: number, y: number) =>
      Math.max(clip(12 - Math.hypot(x - 30, y - 30)), 0.4 * clip(1 - Math.abs(x - 10 - 0.3 * y)));
    let worst = 0;
    let last = refined('grow', { by: -3 }, SIZE, mask);
    for (let by = -2.5; by <= 3; by += 0.5) {
      const next = refined('grow', { by }, SIZE, mask);
      for (let y = 0; y < SIZE; y += 3)
        for (let x = 0; x < SIZE; x++) worst = Math.max(worst, last(x, y) - next(x, y));
      last = next;
    }
    expect(worst).toBeLessThan(0.06);
  });
  test('a thing that the frame cuts off is not eaten from there', () => {
    const at = refined('grow', { by: -5 }, SIZE, edges.straight);
    expect([at(0, 0), at(0, 63), at(20, 0)]).toEqual([1, 1, 1]);
  });
});

test('the kernel moves edges as plain code does, whatever the coverage', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -7, max: 7, noNaN: true }),
      fc.integer({ min: 1, max: 21 }),
      fc.integer({ min: 1, max: 9 }),
      fc.integer({ min: 0, max: 3 }),
      fc.integer(),
      (by, across, down, more, seed) => {
        const margin = reachOf(by) + more;
        const count = (across + 2 * margin) * (down + 2 * margin);
        const coverage = Float32Array.from({ length: count }, (_, i) =>
          clip((Math.imul(Math.floor(i / 3) + seed, 2654435761) >>> 0) / 2 ** 31 - 0.5),
        );
        const window = { area: { x0: 0, y0: 0, x1: across, y1: down }, margin, coverage };
        const [quick, plain] = [new Float32Array(across * down), new Float32Array(across * down)];
        moveEdge(window, by, quick);
        moveEdgePlain(window, by, plain);
        expect(Math.max(...quick.map((c, i) => Math.abs(c - plain[i]!)))).toBeLessThan(1e-6);
      },
    ),
    { numRuns: runs(60) },
  );
});

describe('feather', () => {
  test.each([0.5, 1, 2, 3, 6, 20])('of %f pixels keeps area and place, and widens the edge', (size) => {
    const at = refined('feather', { size }, SIZE, edges.straight);
    expect(along(SIZE, at, 32)).toBeCloseTo(30.3, 3);
    // The spread of the edge is that of a box of the size, twice of half the size, above its own.
    let [first, second] = [0, 0];
    for (let x = 1; x < SIZE; x++) {
      const fall = at(x - 1, 32) - at(x, 32);
      first += fall * x;
      second += fall * x * x;
    }
    const own = { first: 0, second: 0 };
    for (let x = 1; x < SIZE; x++) {
      const fall = edges.straight(x - 1) - edges.straight(x);
      own.first += fall * x;
      own.second += fall * x * x;
    }
    const spread = second - first ** 2 - (own.second - own.first ** 2);
    const wanted = (2 * (size / 2) ** 2) / 12;
    expect(spread).toBeCloseTo(wanted, 2);
  });
});

test('firming up pulls coverage apart around one half; at its end every pixel is all or nothing', () => {
  const soft = (x: number) => x / 63;
  const at = refined('firm', { firmness: 50 }, SIZE, soft);
  expect([0, 16, 21, 42, 47, 63].map((x) => Number(at(x, 0).toFixed(3)))).toEqual(
    [0, 16, 21, 42, 47, 63].map((x) => Number(clip(2 * (x / 63 - 0.5) + 0.5).toFixed(3))),
  );
  const hard = refined('firm', { firmness: 100 }, SIZE, soft);
  expect(new Set(Array.from({ length: SIZE }, (_, x) => hard(x, 0)))).toEqual(new Set([0, 1]));
});
test('black and white point stretch what lies between them', () => {
  const at = refined('points', { black: 20, white: 70 }, SIZE, (x) => x / 63);
  for (let x = 0; x < SIZE; x++) expect(at(x, 5)).toBeCloseTo(clip((x / 63 - 0.2) / 0.5), 5);
});

describe('pinholes and specks', () => {
  const disc = (x: number, y: number) => clip(22.5 - Math.hypot(x - 32, y - 32));
  const hole = (x: number, y: number) => (x >= 30 && x < 33 && y >= 28 && y < 31 ? 1 : 0);
  const slit = (x: number, y: number) => (x === 40 && y > 28 && y < 38 ? 1 : 0);
  const soft = (x: number, y: number) => clip(2.2 - Math.hypot(x - 22, y - 36)) * 0.7;
  const pierced = (x: number, y: number) =>
    disc(x, y) * (1 - hole(x, y)) * (1 - slit(x, y)) * (1 - soft(x, y));

  test('holes up to the size are filled, soft ones too; edges and longer ones stay bit for bit', () => {
    const at = refined('pinholes', { size: 5 }, SIZE, pierced);
    for (let y = 0; y < SIZE; y++)
      for (let x = 0; x < SIZE; x++)
        if (hole(x, y) || soft(x, y)) expect([x, y, at(x, y)]).toEqual([x, y, 1]);
        else expect([x, y, at(x, y)]).toEqual([x, y, Math.fround(pierced(x, y))]);
  });
  test('what stands alone up to the size is dropped; everything else stays bit for bit', () => {
    const dots = (x: number, y: number) => Math.max(hole(x, y), slit(x, y), clip(8.3 - x) * 0.9);
    const at = refined('specks', { size: 4 }, SIZE, dots);
    for (let y = 0; y < SIZE; y++)
      for (let x = 0; x < SIZE; x++)
        if (hole(x, y)) expect([x, y, at(x, y)]).toEqual([x, y, 0]);
        else expect([x, y, at(x, y)]).toEqual([x, y, Math.fround(dots(x, y))]);
  });
  test('every island is found, and nothing else, however it winds', () => {
    /** Pixels of the island at a place, found anew: what a definition says, in no order. */
    const islandOf = (at: Float32Array, width: number, p: number, level: number) => {
      const found = new Set([p]);
      for (const q of found)
        for (let k = 0; k < 9; k++) {
          const x = (q % width) + (k % 3) - 1;
          const n = q + (Math.floor(k / 3) - 1) * width + (k % 3) - 1;
          if (x >= 0 && x < width && n >= 0 && n < at.length && at[n]! < level) found.add(n);
        }
      return [...found];
    };
    const span = (v: number[]) => Math.max(...v) - Math.min(...v) + 1;
    fc.assert(
      fc.property(fc.integer(), fc.integer({ min: 1, max: 6 }), (seed, size) => {
        const width = 17;
        const before = Float32Array.from({ length: width * width }, (_, i) =>
          clip(((Math.imul(i + seed, 2654435761) >>> 0) / 2 ** 32) * 2.4 - 0.3),
        );
        const after = before.slice();
        fillIslands(after, width, size);
        before.forEach((c, p) => {
          let wanted = c;
          for (let level = 1 / 16; level <= 1; level += 1 / 16) {
            if (c >= level) continue;
            const island = islandOf(before, width, p, level);
            const [xs, ys] = [island.map((q) => q % width), island.map((q) => Math.floor(q / width))];
            const inside = [...xs, ...ys].every((v) => v > 0 && v < width - 1);
            if (inside && span(xs) <= size && span(ys) <= size) wanted = level;
          }
          expect([p, after[p]]).toEqual([p, wanted]);
        });
      }),
      { numRuns: runs(5) },
    );
  });
  test('a hole that the frame cuts off is none', () => {
    const at = refined('pinholes', { size: 6 }, SIZE, (x, y) => (x < 3 && y < 3 ? 0 : 1));
    expect(at(1, 1)).toBe(0);
  });
});

test('a rim is as wide as it is said, inside and outside', () => {
  const at = refined('rim', { inside: 3, outside: 2 }, SIZE, edges.straight);
  expect(along(SIZE, at, 32)).toBeCloseTo(5, 1);
  expect([at(20, 32), at(29, 32), at(31, 32), at(40, 32)].map((c) => Math.round(c))).toEqual([0, 1, 1, 0]);
});

test('turned round twice a mask is what it was', () => {
  const once = refined('turn-round', {}, SIZE, edges.soft);
  const twice = refined('turn-round', {}, SIZE, once);
  for (let x = 0; x < SIZE; x++) {
    expect(once(x, 9)).toBeCloseTo(1 - edges.soft(x), 6);
    expect(twice(x, 9)).toBeCloseTo(edges.soft(x), 6);
  }
});

test('every step gives coverage of coverage, whatever its values, and is neutral or visible as it says', () => {
  for (const step of EDGE_STEPS) {
    const values = fc.record(
      Object.fromEntries(
        step.fields.flatMap((f) =>
          f.kind === 'number'
            ? [[f.key, fc.double({ min: f.min, max: Math.min(f.max, 20), noNaN: true })]]
            : [],
        ),
      ),
    );
    fc.assert(
      fc.property(values, fc.integer(), (v, seed) => {
        const at = refined(
          step.kind,
          v,
          24,
          (x, y) => (Math.imul(x + 31 * y + seed, 2654435761) >>> 0) / 2 ** 32,
        );
        const found = Array.from({ length: 24 * 24 }, (_, i) => at(i % 24, Math.floor(i / 24)));
        expect(found.filter((c) => !(c >= 0 && c <= 1))).toEqual([]);
      }),
      { numRuns: 15 },
    );
    expect(leavesAll(step, { amount: 0 })).toBe(true);
    expect(leavesAll(step, initialValues(step.fields))).toBe(false);
    if (step.fields.length) expect(leavesAll(step, {})).toBe(true);
  }
});
