import fc from 'fast-check';
import { onGrid, roundsOf, type Grid } from './rounds.ts';

const GRIDS: readonly Grid[] = [16, 4, 2, 1];

test('a grid takes its share of the pixels, and lies within the next finer one', () => {
  for (const [i, grid] of GRIDS.entries()) {
    let count = 0;
    for (let y = 0; y < 32; y++)
      for (let x = 0; x < 32; x++) {
        if (!onGrid(grid, x, y)) continue;
        count++;
        for (const finer of GRIDS.slice(i)) expect(onGrid(finer, x, y)).toBe(true);
      }
    expect(count).toBe(1024 / grid);
  }
});

test('rounds rise to the samples that were asked for, first by few, then by twice as many, the first of them quick', () => {
  const sizes = fc.record({
    width: fc.integer({ min: 1, max: 8192 }),
    height: fc.integer({ min: 1, max: 8192 }),
    samples: fc.integer({ min: 1, max: 5000 }),
  });
  fc.assert(
    fc.property(sizes, (size) => {
      const rounds = [...roundsOf(size)];
      const taken = rounds.map((r) => r.upTo / r.grid);
      expect(taken.at(-1)).toBe(size.samples);
      taken.slice(1).forEach((n, i) => {
        expect(n).toBeGreaterThan(taken[i]!);
        expect(n).toBeLessThanOrEqual(4 * taken[i]!);
        if (taken[i]! > 1) expect(n).toBeLessThanOrEqual(2 * taken[i]!);
      });
      const pixels = size.width * size.height;
      expect(rounds[0]!.grid).toBeGreaterThanOrEqual(2);
      if (rounds[0]!.grid < 16) expect(pixels * taken[0]!).toBeLessThanOrEqual(600_000);
    }),
  );
});
