import fc from 'fast-check';
import { addSighting, noSightings, RankSorter } from './coverage.ts';
import { Sampler } from './plain/sampler.ts';

describe('counting what samples saw', () => {
  test('agrees with a map for each pixel, however many things there are', () => {
    const sight = fc.record({
      pixel: fc.integer({ min: 0, max: 3 }),
      thing: fc.integer({ min: 0, max: 40 }),
      weight: fc.constantFrom(0.25, 0.5, 1),
    });
    fc.assert(
      fc.property(fc.array(sight, { maxLength: 400 }), (sights) => {
        const counted = noSightings(4);
        const maps = Array.from({ length: 4 }, () => new Map<number, number>());
        for (const { pixel, thing, weight } of sights) {
          addSighting(counted, pixel, thing, weight);
          maps[pixel]!.set(thing, (maps[pixel]!.get(thing) ?? 0) + weight);
        }
        maps.forEach((map, pixel) => {
          const found = new Map<number, number>();
          for (let e = counted.head[pixel]!; e >= 0; e = counted.next[e]!) {
            expect(found.has(counted.thing[e]!)).toBe(false);
            found.set(counted.thing[e]!, counted.weight[e]!);
          }
          expect(found).toEqual(map);
        });

        // Ranks: falling, ties by ID, and nothing but what was seen; two things may share an ID, one may have none.
        const idOf = Uint32Array.from({ length: 41 }, (_, thing) => (thing === 7 ? 0 : 100 + (thing >> 1)));
        const ids = Array.from({ length: 30 }, () => new Uint32Array(4));
        const coverage = Array.from({ length: 30 }, () => new Float32Array(4));
        const sorter = new RankSorter();
        maps.forEach((map, pixel) => {
          sorter.write(counted, pixel, 8, idOf, pixel, ids, coverage);
          const sums = new Map<number, number>();
          for (const [thing, weight] of map)
            if (idOf[thing] !== 0) sums.set(idOf[thing]!, (sums.get(idOf[thing]!) ?? 0) + weight);
          const expected = [...sums].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
          expected.forEach(([id, weight], rank) => {
            expect(ids[rank]![pixel]).toBe(id);
            expect(coverage[rank]![pixel]).toBe(weight / 8);
          });
          expect(ids[expected.length]?.[pixel] ?? 0).toBe(0);
        });
      }),
    );
  });
});

describe('sample points', () => {
  test('depend on pixel, seed, number and pair alone', () => {
    const at = (seed: number, x: number, y: number, i: number, pair: number) => {
      const s = new Sampler(seed);
      s.start(x, y, i);
      s.take(pair);
      return [s.x, s.y];
    };
    expect(at(1, 2, 3, 4, 5)).toEqual(at(1, 2, 3, 4, 5));
    const others = [
      at(2, 2, 3, 4, 5),
      at(1, 3, 3, 4, 5),
      at(1, 2, 4, 4, 5),
      at(1, 2, 3, 5, 5),
      at(1, 2, 3, 4, 6),
    ];
    for (const other of others) expect(other).not.toEqual(at(1, 2, 3, 4, 5));
  });

  test.each([0, 1, 37, 4096])('of pair %d are spread: every cell of a grid has one of 64', (pair) => {
    const s = new Sampler(11);
    const cells = new Set<string>();
    for (let i = 0; i < 64; i++) {
      s.start(5, 9, i);
      s.take(pair);
      expect(s.x >= 0 && s.x < 1 && s.y >= 0 && s.y < 1).toBe(true);
      cells.add(`${Math.floor(s.x * 8)} ${Math.floor(s.y * 8)}`);
    }
    expect(cells.size).toBe(64);
  });

  test('of different pairs have nothing to do with each other', () => {
    const s = new Sampler(3);
    let sum = 0;
    const n = 1024;
    for (let i = 0; i < n; i++) {
      s.start(1, 1, i);
      s.take(4);
      const a = s.x - 0.5;
      s.take(5);
      sum += a * (s.x - 0.5);
    }
    // The correlation of independent numbers is near 0; 1 / 12 would be full.
    expect(Math.abs(sum / n) * 12).toBeLessThan(0.1);
  });
});
