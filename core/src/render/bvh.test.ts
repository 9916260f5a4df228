import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { buildBvh, MAX_DEPTH, type Bvh } from './bvh.ts';

const coordinate = fc.oneof(
  fc.float({ min: -10, max: 10, noNaN: true }),
  // Many things in the same place cannot be parted by any plane.
  fc.constantFrom(0, 1, 1, 1),
);
const soup = (most: number) =>
  fc
    .array(fc.array(coordinate, { minLength: 9, maxLength: 9 }), { minLength: 1, maxLength: most })
    .map((triangles) => Float32Array.from(triangles.flat()));
const cornersOf = (positions: Float32Array) =>
  Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);

/** Visits every node that hangs in the tree, with its depth and the box it stands in. */
function walk(
  { nodes, bounds }: Bvh,
  visit: (node: number, box: Float32Array, count: number, first: number, depth: number) => void,
): void {
  const go = (node: number, depth: number) => {
    const count = nodes[2 * node]!;
    const first = nodes[2 * node + 1]!;
    visit(node, bounds.subarray(6 * node, 6 * node + 6), count, first, depth);
    if (count === 0) {
      go(first, depth + 1);
      go(first + 1, depth + 1);
    }
  };
  go(0, 0);
}

/** Every triangle hangs in one leaf, and every box holds all that is below it, over the whole way. */
function isSound(positions: Float32Array, end?: Float32Array): void {
  const bvh = buildBvh(positions, cornersOf(positions), undefined, end);
  const count = positions.length / 9;
  const seen = new Set<number>();
  walk(bvh, (node, box, triangles, first, depth) => {
    expect(depth).toBeLessThanOrEqual(MAX_DEPTH);
    for (let i = first; i < first + triangles; i++) {
      const triangle = bvh.order[i]!;
      expect(seen.has(triangle)).toBe(false);
      seen.add(triangle);
      for (const where of end ? [positions, end] : [positions])
        for (let k = 0; k < 9; k++) {
          const v = where[9 * triangle + k]!;
          expect(v).toBeGreaterThanOrEqual(box[k % 3]!);
          expect(v).toBeLessThanOrEqual(box[3 + (k % 3)]!);
        }
    }
    if (triangles === 0)
      for (const child of [first, first + 1])
        for (let axis = 0; axis < 3; axis++) {
          expect(child).toBeGreaterThan(node);
          expect(bvh.bounds[6 * child + axis]!).toBeGreaterThanOrEqual(box[axis]!);
          expect(bvh.bounds[6 * child + 3 + axis]!).toBeLessThanOrEqual(box[3 + axis]!);
        }
  });
  expect(seen.size).toBe(count);
}

test('a tree holds every triangle once, inside all boxes above it', () => {
  fc.assert(
    fc.property(soup(60), (positions) => isSound(positions)),
    { numRuns: runs(60) },
  );
});

test('the boxes of what moves hold it from beginning to end', () => {
  fc.assert(
    fc.property(soup(30), fc.array(coordinate, { minLength: 3, maxLength: 3 }), (positions, by) => {
      isSound(
        positions,
        positions.map((v, i) => v + by[i % 3]!),
      );
    }),
    { numRuns: runs(40) },
  );
});

test('hundreds of triangles in the very same place do not make it deeper than can be searched', () => {
  isSound(Float32Array.from({ length: 9 * 700 }, (_, i) => [0, 0, 0, 1, 0, 0, 0, 1, 0][i % 9]!));
});

test('corner and edges of a triangle stand in leaf order, and how they move', () => {
  const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5, 6, 5, 5, 5, 6, 5);
  const end = positions.map((v, i) => (i < 9 ? v : v + 2));
  const bvh = buildBvh(positions, cornersOf(positions), undefined, end);
  const at = [...bvh.order].indexOf(1);
  expect([...bvh.triangles.subarray(9 * at, 9 * at + 9)]).toEqual([5, 5, 5, 1, 0, 0, 0, 1, 0]);
  expect([...bvh.motion!.subarray(9 * at, 9 * at + 9)]).toEqual([2, 2, 2, 0, 0, 0, 0, 0, 0]);
  expect(buildBvh(positions, cornersOf(positions)).motion).toBeUndefined();
});

test('a tree of a range holds just that, numbered as in the mesh', () => {
  const positions = Float32Array.from({ length: 9 * 12 }, (_, i) => Math.sin(7 * i));
  const bvh = buildBvh(positions, cornersOf(positions), { from: 4, to: 9 });
  expect([...bvh.order].sort((a, b) => a - b)).toEqual([4, 5, 6, 7, 8]);
});
