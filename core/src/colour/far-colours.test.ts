import fc from 'fast-check';
import { farColours } from './far-colours.ts';

type Colour = readonly [number, number, number];
const distance = (a: Colour, b: Colour) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const BLACK: Colour = [0, 0, 0];
/** Distance of the two that are nearest to each other, black among them. */
function nearest(colours: readonly Colour[]): number {
  const all = [BLACK, ...colours];
  let least = Infinity;
  for (let i = 0; i < all.length; i++)
    for (let j = 0; j < i; j++) least = Math.min(least, distance(all[i]!, all[j]!));
  return least;
}

test('one thing is white', () => expect(farColours(1)).toEqual([[255, 255, 255]]));

test.each([1, 2, 8, 60, 400])('%d of them are about as far apart as they can be', (count) => {
  const colours = farColours(count);
  expect(colours).toHaveLength(count);
  // The best possible packing of n points in a cube of side 255 is a little over 255 / cbrt(n).
  expect(nearest(colours)).toBeGreaterThan((0.62 * 255) / Math.cbrt(count + 1));
});

test('many colours lie farther apart than the best of random choices', () => {
  fc.assert(
    fc.property(fc.integer({ min: 12, max: 90 }), fc.integer(), (n, seed) => {
      let state = seed;
      const draw = () => ((state = (Math.imul(state, 1664525) + 1013904223) | 0) >>> 8) & 255;
      let best = 0;
      for (let turn = 0; turn < 40; turn++)
        best = Math.max(best, nearest(Array.from({ length: n }, (): Colour => [draw(), draw(), draw()])));
      expect(nearest(farColours(n))).toBeGreaterThan(best);
    }),
    { numRuns: 30 },
  );
});

test('the same number gives the same colours, whole ones of 8 bits', () => {
  const colours = farColours(400);
  expect(farColours(400)).toEqual(colours);
  expect(colours.flat().every((c) => Number.isInteger(c) && c >= 0 && c <= 255)).toBe(true);
  expect(new Set(colours.map(String)).size).toBe(400);
});
