import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { buildIdIndex } from './id-index.ts';
import { meansUnder, slotsByDepth } from './mean-under.ts';
import { membersWithin } from './members-within.ts';

const SIZE = { width: 40, height: 30 };
/** Four blocks of IDs 1 to 4 in the corners of the middle, the rest is 9. */
const blocks = (() => {
  const ids = new Uint32Array(1200).fill(9);
  for (let p = 0; p < 1200; p++) {
    const [x, y] = [p % 40, Math.floor(p / 40)];
    const at = (lo: number, v: number) => v >= lo && v < lo + 5;
    if (at(5, x) && at(5, y)) ids[p] = 1;
    if (at(25, x) && at(5, y)) ids[p] = 2;
    if (at(5, x) && at(20, y)) ids[p] = 3;
    if (at(25, x) && at(20, y)) ids[p] = 4;
  }
  return buildIdIndex({ ...SIZE, ids: [ids], coverage: [new Float32Array(1200).fill(1)] });
})();
const ids = (slots: readonly number[]) => slots.map((s) => blocks.ids[s]!).sort((a, b) => a - b);

describe('what a line encloses', () => {
  const box = (x0: number, y0: number, x1: number, y1: number) => [x0, y0, x1, y0, x1, y1, x0, y1];
  test('whole things, or all that it touches', () => {
    expect(ids(membersWithin(blocks, box(4, 4, 27, 11), 'inside'))).toEqual([1]);
    expect(ids(membersWithin(blocks, box(4, 4, 27, 11), 'touched'))).toEqual([1, 2, 9]);
    expect(ids(membersWithin(blocks, box(-9, -9, 99, 99), 'inside'))).toEqual([1, 2, 3, 4, 9]);
    expect(membersWithin(blocks, [3, 3], 'touched')).toEqual([]);
  });
  test('what it winds round twice is outside', () => {
    const once = box(4, 4, 30, 26);
    expect(membersWithin(blocks, [...once, ...once], 'touched')).toEqual([]);
  });
  test('counts pixels by their middles, as testing every pixel does', () => {
    const point = fc.tuple(
      fc.double({ min: -5, max: 45, noNaN: true }),
      fc.double({ min: -5, max: 35, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 7 }), (points) => {
        const inside = (x: number, y: number) => {
          let odd = false;
          points.forEach(([ax, ay], i) => {
            const [bx, by] = points[(i + 1) % points.length]!;
            if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) odd = !odd;
          });
          return odd;
        };
        const counts = new Map<number, number>();
        for (let p = 0; p < 1200; p++)
          if (inside((p % 40) + 0.5, Math.floor(p / 40) + 0.5)) {
            const run = blocks.pixel.findIndex((from, i) => p >= from && p < from + blocks.length[i]!);
            const id = blocks.ids[blocks.slot[run]!]!;
            counts.set(id, (counts.get(id) ?? 0) + 1);
          }
        expect(ids(membersWithin(blocks, points.flat(), 'touched'))).toEqual(
          [...counts.keys()].sort((a, b) => a - b),
        );
      }),
      { numRuns: runs(60) },
    );
  });
});

describe('by depth', () => {
  // The farther right, the farther away; in the last column nothing is known.
  const depth = Float32Array.from({ length: 1200 }, (_, p) => (p % 40 === 39 ? Infinity : p % 40));
  test('means are those of finite values', () => {
    const means = meansUnder(blocks, depth);
    expect(means[blocks.slotOf.get(1)!]).toBe(7);
    expect(means[blocks.slotOf.get(2)!]).toBe(27);
    expect(Number.isFinite(means[blocks.slotOf.get(9)!]!)).toBe(true);
  });
  test('what is behind a thing, and what is before it', () => {
    const of = (id: number) => [blocks.slotOf.get(id)!];
    expect(ids(slotsByDepth(blocks, depth, of(1), 'behind'))).toEqual([2, 4, 9]);
    expect(ids(slotsByDepth(blocks, depth, of(2), 'before'))).toEqual([1, 3, 9]);
    expect(slotsByDepth(blocks, new Float32Array(1200).fill(NaN), of(2), 'before')).toEqual([]);
  });
});
