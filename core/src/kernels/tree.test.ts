import fc from 'fast-check';
import {
  MOVING_NODE_BYTES,
  MOVING_PACKET_BYTES,
  NODE_BYTES,
  PACKET_BYTES,
} from '../../kernels/rays/layout.ts';
import { runs } from '../../test/runs.ts';
import { buildTree, treeBytes, type TriangleRange } from './tree.ts';

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

/** A tree as it is searched: numbers and whole numbers of nodes, then of packets. */
function built(positions: Float32Array, range: TriangleRange, end?: Float32Array) {
  const tree = buildTree(positions, cornersOf(positions), range, end);
  const memory = new ArrayBuffer(tree.nodeBytes + tree.packetBytes);
  tree.write(memory, 0, tree.nodeBytes);
  return { ...tree, numbers: new Float32Array(memory), ints: new Int32Array(memory) };
}

/** Every triangle hangs in one leaf, and every box holds all that is below it, at any time of the shutter. */
function isSound(positions: Float32Array, end?: Float32Array): void {
  const count = positions.length / 9;
  const { numbers, ints, nodeBytes } = built(positions, { from: 0, to: count }, end);
  const seen = new Set<number>();
  const outside: number[] = [];
  const nodeSize = (end ? MOVING_NODE_BYTES : NODE_BYTES) / 4;
  const packetSize = (end ? MOVING_PACKET_BYTES : PACKET_BYTES) / 4;
  const near = (a: number, b: number) => a >= b - 1e-5 * Math.max(1, Math.abs(b));
  const go = (node: number, depth: number): number[] => {
    // A ray's stack holds three more at every level.
    expect(3 * depth).toBeLessThan(256);
    const at = nodeSize * node;
    return [0, 1, 2, 3].flatMap((child) => {
      if (numbers[at + child]! > numbers[at + 12 + child]!) return [];
      const code = ints[at + 24 + child]!;
      const below = code >= 0 ? go(code, depth + 1) : leaf(code);
      for (const t of below)
        for (let k = 0; k < 9; k++)
          for (const time of end ? [0, 0.3, 1] : [0]) {
            const from = positions[9 * t + k]!;
            const v = from + time * ((end?.[9 * t + k] ?? from) - from);
            const side = (row: number) =>
              numbers[at + 4 * row + child]! + (end ? time * numbers[at + 32 + 4 * row + child]! : 0);
            if (!near(v, side(k % 3)) || !near(side(3 + (k % 3)), v)) outside.push(t);
          }
      return below;
    });
  };
  const leaf = (code: number): number[] => {
    const first = ~code >> 3;
    const triangles: number[] = [];
    for (let i = 0; i < 4 * (~code & 7); i++) {
      const t = ints[nodeBytes / 4 + packetSize * (first + (i >> 2)) + 36 + (i & 3)]!;
      if (t >= 0) triangles.push(t);
    }
    for (const t of triangles) {
      expect(seen.has(t)).toBe(false);
      seen.add(t);
    }
    return triangles;
  };
  go(0, 1);
  expect(outside).toEqual([]);
  expect(seen.size).toBe(count);
}

test('a tree holds every triangle once, inside all boxes above it', () => {
  fc.assert(
    fc.property(soup(60), (positions) => isSound(positions)),
    { numRuns: runs(60) },
  );
});

test('the boxes of what moves hold it at every time from beginning to end', () => {
  fc.assert(
    fc.property(soup(30), fc.array(coordinate, { minLength: 9, maxLength: 9 }), (positions, by) => {
      isSound(
        positions,
        positions.map((v, i) => v + by[i % 9]!),
      );
    }),
    { numRuns: runs(40) },
  );
});

test('hundreds of triangles in the very same place do not make it deeper than can be searched', () => {
  isSound(Float32Array.from({ length: 9 * 700 }, (_, i) => [0, 0, 0, 1, 0, 0, 0, 1, 0][i % 9]!));
});

test('triangles that each halve the space that is left do not either', () => {
  isSound(
    Float32Array.from({ length: 9 * 300 }, (_, i) => [0, 0, 0, 1, 0, 0, 0, 1, 0][i % 9]! * 0.75 ** (i / 9)),
  );
});

test('numbers that are none do not stop it', () => {
  const positions = Float32Array.from({ length: 9 * 40 }, (_, i) => (i % 50 === 7 ? NaN : Math.sin(7 * i)));
  expect(buildTree(positions, cornersOf(positions), { from: 0, to: 40 }).packetBytes).toBeGreaterThan(0);
});

test('a packet holds corners and edges by rows, and how they move', () => {
  const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5, 6, 5, 5, 5, 6, 5);
  const end = positions.map((v, i) => (i < 9 ? v : v + 2));
  const { numbers, ints, nodeBytes } = built(positions, { from: 0, to: 2 }, end);
  const packet = nodeBytes / 4;
  const at = [...ints.subarray(packet + 36, packet + 40)].indexOf(1);
  const row = (k: number) => numbers[packet + 4 * k + at]!;
  expect([0, 1, 2, 3, 4, 5, 6, 7, 8].map(row)).toEqual([5, 5, 5, 1, 0, 0, 0, 1, 0]);
  expect([0, 1, 2, 3, 4, 5, 6, 7, 8].map((k) => row(10 + k))).toEqual([2, 2, 2, 0, 0, 0, 0, 0, 0]);
});

test('a tree of a range holds just that, numbered as in the mesh', () => {
  const positions = Float32Array.from({ length: 9 * 12 }, (_, i) => Math.sin(7 * i));
  const { ints, nodeBytes, packetBytes } = built(positions, { from: 4, to: 9 });
  const found: number[] = [];
  for (let p = nodeBytes / 4; p < (nodeBytes + packetBytes) / 4; p += PACKET_BYTES / 4)
    found.push(...ints.subarray(p + 36, p + 40));
  expect(found.filter((t) => t >= 0).sort((a, b) => a - b)).toEqual([4, 5, 6, 7, 8]);
});

test('trees take about as much memory as is reckoned beforehand', () => {
  const count = 20_000;
  const positions = Float32Array.from({ length: 9 * count }, (_, i) => {
    const t = Math.floor(i / 9);
    return [t % 200, Math.floor(t / 200), 0][i % 3]! + Math.sin(i) * 0.7;
  });
  for (const end of [undefined, positions.map((v) => v + 1)]) {
    const { nodeBytes, packetBytes } = built(positions, { from: 0, to: count }, end);
    const { kept } = treeBytes(count, 3 * count, end !== undefined);
    expect(nodeBytes + packetBytes).toBeLessThan(kept);
    expect(nodeBytes + packetBytes).toBeGreaterThan(0.4 * kept);
  }
});
