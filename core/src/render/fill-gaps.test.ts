import fc from 'fast-check';
import { fillGaps } from './fill-gaps.ts';

const pictures = fc
  .record({ width: fc.integer({ min: 1, max: 23 }), height: fc.integer({ min: 1, max: 17 }) })
  .chain(({ width, height }) =>
    fc.record({
      width: fc.constant(width),
      height: fc.constant(height),
      values: fc.array(fc.integer({ min: 1, max: 9 }), {
        minLength: width * height,
        maxLength: width * height,
      }),
      known: fc.array(fc.constantFrom(0, 0, 0, 1), { minLength: width * height, maxLength: width * height }),
    }),
  );

test('what is known stays, and what is not lies between what is', () => {
  fc.assert(
    fc.property(pictures, ({ width, height, values, known }) => {
      const mask = Uint8Array.from(known);
      // What is not known says so, and must not get into anything.
      const plane = Float32Array.from(values, (v, i) => (known[i] ? v : NaN));
      const own = values.filter((_, i) => known[i]);
      fillGaps([plane], mask, width, height);
      if (own.length === 0) return expect(plane.every(Number.isNaN)).toBe(true);
      const [low, high] = [Math.min(...own), Math.max(...own)];
      plane.forEach((v, i) => {
        if (known[i]) expect(v).toBe(values[i]);
        expect(v).toBeGreaterThanOrEqual(low - 1e-5);
        expect(v).toBeLessThanOrEqual(high + 1e-5);
      });
    }),
  );
});

test('a slope of which one pixel in sixteen is known is a slope again', () => {
  const [width, height] = [64, 64];
  const plane = new Float32Array(width * height);
  const known = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      plane[y * width + x] = x;
      known[y * width + x] = x % 4 === 0 && y % 4 === 0 ? 1 : 0;
    }
  fillGaps([plane], known, width, height);
  // Squares of four pixels know their first one.
  for (let y = 8; y < 56; y++)
    for (let x = 8; x < 56; x++) expect(Math.abs(plane[y * width + x]! - x)).toBeLessThanOrEqual(4);
  for (let x = 8; x < 55; x++)
    expect(Math.abs(plane[32 * width + x + 1]! - plane[32 * width + x]!)).toBeLessThan(4);
});
