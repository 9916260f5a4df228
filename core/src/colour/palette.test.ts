import { linearToSrgb } from './srgb.ts';
import { paletteOf } from './palette.ts';

const COLOURS = [
  [192, 57, 43],
  [31, 95, 174],
  [75, 93, 42],
  [217, 180, 74],
  [250, 236, 190],
  [42, 110, 63],
];
/** A sheet of fields, three in a row, on white paper, with soft rims and a little noise. */
function sheet(noise: number) {
  const [width, height] = [300, 200];
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const field = COLOURS[3 * Math.floor(y / 100) + Math.floor(x / 100)]!;
      const inside = Math.min(x % 100, 99 - (x % 100), y % 100, 99 - (y % 100)) - 14;
      const share = Math.min(1, Math.max(0, inside / 3));
      const grain = ((x * 7 + y * 13) % 3) - 1;
      for (let k = 0; k < 3; k++)
        data[4 * (y * width + x) + k] = 255 + (field[k]! - 255) * share + noise * grain * share;
      data[4 * (y * width + x) + 3] = 255;
    }
  return { width, height, data };
}
const bytes = (found: [number, number, number][]) =>
  found.map((c) => c.map((v) => Math.round(255 * linearToSrgb(v))));

test.each([0, 1])('flat fields are found in reading order, without rims; noise %i', (noise) => {
  const found = bytes(paletteOf(sheet(noise), 24));
  const fields = found.filter((c) => Math.min(...c) < 250);
  expect(fields).toHaveLength(6);
  fields.forEach((c, i) => c.forEach((v, k) => expect(Math.abs(v - COLOURS[i]![k]!)).toBeLessThanOrEqual(1)));
  // The paper is a flat colour, too.
  expect(found).toHaveLength(7);
});
test('no more are taken than wanted, the largest first, and none of an empty picture', () => {
  expect(paletteOf(sheet(0), 3)).toHaveLength(3);
  expect(paletteOf({ width: 8, height: 8, data: new Uint8ClampedArray(256) }, 9)).toEqual([]);
});
