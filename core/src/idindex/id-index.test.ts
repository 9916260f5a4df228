import fc from 'fast-check';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import { buildIdIndex, memberArea } from './id-index.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';

const planesOf = (width: number, height: number, ranks: [number, number][][]): RankPlanes => ({
  width,
  height,
  ids: ranks.map((r) => Uint32Array.from(r, ([id]) => id)),
  coverage: ranks.map((r) => Float32Array.from(r, ([, c]) => c)),
});

/** Every pixel of every ID, counted one by one. */
function truth({ width, ids, coverage }: RankPlanes) {
  const found = new Map<number, { sum: number; pixels: Set<number>; tiles: Set<number> }>();
  const across = tilesAcross(width);
  ids.forEach((plane, rank) =>
    plane.forEach((id, p) => {
      const c = coverage[rank]![p]!;
      if (id === 0 || !(c > 0)) return;
      const member = found.get(id) ?? { sum: 0, pixels: new Set<number>(), tiles: new Set<number>() };
      member.sum += c;
      member.pixels.add(p);
      member.tiles.add(Math.floor(Math.floor(p / width) / TILE) * across + Math.floor((p % width) / TILE));
      found.set(id, member);
    }),
  );
  return found;
}

function agrees(planes: RankPlanes): void {
  const index = buildIdIndex(planes);
  const members = truth(planes);
  expect(new Set(index.ids)).toEqual(new Set(members.keys()));
  expect(index.start.at(-1)).toBe(index.pixels.length);
  for (const [id, member] of members) {
    const slot = index.slotOf.get(id)!;
    expect(index.ids[slot]).toBe(id);
    const area = memberArea(index, slot);
    expect(area.coverage).toBeCloseTo(member.sum, 4);
    expect(area.pixels).toBe(member.pixels.size);
    const list = index.pixels.subarray(index.start[slot], index.start[slot + 1]);
    expect(new Set(list)).toEqual(member.pixels);
    for (let tile = 0; tile < index.tilesX * index.tilesY; tile++) {
      const bit = (index.tiles[slot * index.tileWords + (tile >>> 5)]! >>> (tile & 31)) & 1;
      expect(bit === 1).toBe(member.tiles.has(tile));
    }
  }
}

test('holds every pixel of every ID with its coverage, and the tiles they lie in', () => {
  // IDs that are like each other in their lower and in their upper bits meet in the table.
  const id = fc.oneof(
    fc.constant(0),
    fc.integer({ min: 1, max: 5 }),
    fc.integer({ min: 1, max: 6 }).map((n) => (n << 25) >>> 0),
    fc.integer({ min: 1, max: 0xffffffff }),
  );
  const coverage = fc.oneof(
    fc.constantFrom(0, -1, NaN),
    fc.float({ min: Math.fround(0.001), max: 1, noNaN: true }),
  );
  const planes = fc
    .tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 3 }))
    .chain(([w, h, ranks]) =>
      fc
        .array(fc.array(fc.tuple(id, coverage), { minLength: w * h, maxLength: w * h }), {
          minLength: ranks,
          maxLength: ranks,
        })
        .map((r) => planesOf(w, h, r)),
    );
  fc.assert(fc.property(planes, agrees), { numRuns: 200 });
});

test('counts a pixel once whose ID stands in two ranks, with both coverages', () => {
  const index = buildIdIndex(
    planesOf(2, 1, [
      [
        [7, 0.5],
        [7, 0.25],
      ],
      [
        [7, 0.25],
        [8, 0.5],
      ],
    ]),
  );
  expect(memberArea(index, index.slotOf.get(7)!)).toEqual({ coverage: 1, pixels: 2 });
});

test('has room for thousands of IDs, over many tiles', () => {
  const [width, height] = [200, 130];
  const rank = Array.from({ length: width * height }, (_, p): [number, number] => [
    (Math.imul(p >> 2, 0x9e3779b1) >>> 0) | 1,
    1,
  ]);
  const planes = planesOf(width, height, [rank]);
  expect(truth(planes).size).toBeGreaterThan(5000);
  const index = buildIdIndex(planes);
  expect([index.tilesX, index.tilesY]).toEqual([4, 3]);
  for (const [id, member] of truth(planes))
    expect(memberArea(index, index.slotOf.get(id)!).pixels).toBe(member.pixels.size);
});

test('of a frame without any ID is empty', () => {
  const index = buildIdIndex(planesOf(3, 2, [Array.from({ length: 6 }, () => [0, 1])]));
  expect([index.ids.length, index.pixels.length, [...index.start]]).toEqual([0, 0, [0]]);
});
