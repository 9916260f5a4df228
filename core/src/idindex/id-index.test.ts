import fc from 'fast-check';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import { loadIdLayers } from '../idlayers/load.ts';
import { sample } from '../../test/fixtures/samples.ts';
import { plainRuns } from './band.ts';
import { buildIdIndex, idsAt, type IdIndex } from './id-index.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';
import { runs } from '../../test/runs.ts';

const planesOf = (width: number, height: number, ranks: [number, number][][]): RankPlanes => ({
  width,
  height,
  ids: ranks.map((r) => Uint32Array.from(r, ([id]) => id)),
  coverage: ranks.map((r) => Float32Array.from(r, ([, c]) => c)),
});

/** Every pixel of every ID, counted one by one; ID 0 is what the others leave. */
function truth({ width, height, ids, coverage }: RankPlanes) {
  const found = new Map<number, { sum: number; pixels: Map<number, number>; tiles: Set<number> }>();
  const across = tilesAcross(width);
  const put = (id: number, p: number, c: number) => {
    const member = found.get(id) ?? { sum: 0, pixels: new Map<number, number>(), tiles: new Set<number>() };
    member.sum += c;
    member.pixels.set(p, (member.pixels.get(p) ?? 0) + c);
    member.tiles.add(Math.floor(Math.floor(p / width) / TILE) * across + Math.floor((p % width) / TILE));
    found.set(id, member);
  };
  for (let p = 0; p < width * height; p++) {
    let left = 1;
    ids.forEach((plane, rank) => {
      const c = coverage[rank]![p]!;
      if (plane[p] === 0 || !(c > 0)) return;
      put(plane[p]!, p, c);
      left = Math.fround(left - c);
    });
    if (left > 0.005) put(0, p, left);
  }
  return found;
}

const pixelsOf = (index: IdIndex, slot: number) => {
  const pixels = new Map<number, number>();
  index.slot.forEach((s, i) => {
    if (s !== slot) return;
    for (let p = index.pixel[i]!; p < index.pixel[i]! + index.length[i]!; p++)
      pixels.set(p, (pixels.get(p) ?? 0) + index.coverage[i]!);
  });
  return pixels;
};

function agrees(planes: RankPlanes): void {
  const index = buildIdIndex(planes);
  // The kernel and plain code say the same to the last bit.
  expect(buildIdIndex(planes, plainRuns)).toEqual(index);
  const members = truth(planes);
  for (const id of members.keys()) expect(index.slotOf.has(id)).toBe(true);
  expect(index.rowStart.at(-1)).toBe(index.slot.length);
  for (const [id, slot] of index.slotOf) {
    expect(index.ids[slot]).toBe(id);
    const member = members.get(id);
    // What is next to nothing may count as nothing or not.
    if (id === 0 && !member) continue;
    const own = pixelsOf(index, slot);
    expect([...member!.pixels].filter(([p, c]) => !(Math.abs(own.get(p)! - c) < 5e-5))).toEqual([]);
    if (id === 0) continue;
    expect(new Set(own.keys())).toEqual(new Set(member!.pixels.keys()));
    expect(index.coverageOf[slot]).toBeCloseTo(member!.sum, 4);
    expect(index.pixelsOf[slot]).toBe(member!.pixels.size);
    const bit = (tile: number) => (index.tiles[slot * index.tileWords + (tile >>> 5)]! >>> (tile & 31)) & 1;
    const tiles = Array.from({ length: index.tilesX * index.tilesY }, (_, tile) => tile);
    expect(tiles.filter(bit)).toEqual([...member!.tiles].sort((a, b) => a - b));
    const [p] = [...member!.pixels.keys()];
    const here = idsAt(index, p! % planes.width, Math.floor(p! / planes.width));
    expect(here.find((f) => f.slot === slot)!.coverage).toBeCloseTo(member!.pixels.get(p!)!, 4);
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
  fc.assert(fc.property(planes, agrees), { numRuns: runs(200) });
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
  const slot = index.slotOf.get(7)!;
  expect([index.coverageOf[slot], index.pixelsOf[slot]]).toEqual([1, 2]);
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
    expect(index.pixelsOf[index.slotOf.get(id)!]).toBe(member.pixels.size);
});

test('of a frame without any ID has nothing, everywhere', () => {
  const index = buildIdIndex(planesOf(3, 2, [Array.from({ length: 6 }, () => [0, 1])]));
  expect([[...index.ids], [...index.pixelsOf], [...index.coverageOf]]).toEqual([[0], [6], [6]]);
});

test('sums that are too large and coverages that are not numbers are counted', () => {
  const index = buildIdIndex(
    planesOf(5, 1, [
      [
        [7, 0.9],
        [7, 1],
        [7, NaN],
        [7, Infinity],
        [7, 0.5],
      ],
      [
        [8, 0.9],
        [8, 0.01],
        [8, 0.5],
        [0, 0],
        [8, 0.5],
      ],
    ]),
  );
  expect([index.over, index.broken]).toEqual([1, 2]);
});

test.each(['all.exr', 'object_overscan.exr', 'material_piz.exr'])(
  '%s: kernel and plain code agree on every layer',
  (name) => {
    for (const { planes } of loadIdLayers(sample(name)).layers)
      expect(buildIdIndex(planes!, plainRuns)).toEqual(buildIdIndex(planes!));
  },
);
