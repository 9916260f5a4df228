import { halved } from './reduce.ts';

test('four pixels become their mean, and beyond the picture its border stands in', () => {
  const side = 4;
  const data = Uint8ClampedArray.from({ length: 4 * side * side }, (_, i) => (i % 4 === 3 ? 255 : i));
  const whole = halved(data, side, 4, 4);
  expect(whole).toHaveLength(4 * 4);
  // Pixels 0, 1, 4 and 5 begin at 0, 4, 16 and 20.
  expect([...whole.subarray(0, 4)]).toEqual([10, 11, 12, 255]);
  // Three pixels wide: the third stands for the fourth.
  expect(halved(data, side, 3, 4)[4]).toBe((8 + 8 + 24 + 24) / 4);
  expect(halved(data, side, 4, 3)[8]).toBe((32 + 36 + 32 + 36) / 4);
});
