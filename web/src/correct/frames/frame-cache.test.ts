import { frameAt, nextToMake, sideFor, within } from './frame-cache.ts';

const FRAMES = [1, 2, 4, 5];

test('frames are played at their rate, over and over, and a missing one takes its time', () => {
  const seen = Array.from({ length: 12 }, (_, i) => frameAt(FRAMES, 1, i * 100 + 1, 10));
  expect(seen).toEqual([1, 2, 2, 4, 5, 1, 2, 2, 4, 5, 1, 2]);
  expect(frameAt(FRAMES, 4, 0, 24)).toBe(4);
  // From outside of what is played, it begins there.
  expect(frameAt(FRAMES, 90, 0, 24)).toBe(1);
  expect(frameAt([], 1, 50, 24)).toBeUndefined();
});

test('what is made next is the present frame, then those after it, then those before', () => {
  const there = new Set<number>();
  const order: number[] = [];
  for (let n; (n = nextToMake(FRAMES, 4, (f) => there.has(f))) !== undefined; there.add(n)) order.push(n);
  expect(order).toEqual([4, 5, 1, 2]);
});

test('in and out points leave out what lies beyond them', () => {
  expect(within(FRAMES, { first: 2, last: 4 })).toEqual([2, 4]);
  expect(within(FRAMES, {})).toEqual(FRAMES);
});

test('however many frames are kept, they fit into memory together', () => {
  const size = { width: 3840, height: 2160 };
  for (const count of [1, 40, 500, 5000]) {
    const side = sideFor(count, size);
    expect(count * 4 * side * side * (9 / 16)).toBeLessThanOrEqual(512 * 2 ** 20);
  }
  expect(sideFor(10, size)).toBe(1280);
  // Not larger than the frame itself.
  expect(sideFor(10, { width: 640, height: 360 })).toBe(640);
});
