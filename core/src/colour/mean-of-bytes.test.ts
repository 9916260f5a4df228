import { srgbToLinear } from './srgb.ts';
import { meanOfBytes } from './mean-of-bytes.ts';

const picture = (width: number, height: number, of: (x: number, y: number) => number[]) => ({
  width,
  height,
  data: Array.from({ length: width * height }, (_, p) => of(p % width, Math.floor(p / width))).flat(),
});

test('a mean is of light, not of bytes, and of the square around the place', () => {
  const halves = picture(6, 6, (x) => (x < 3 ? [0, 0, 0, 255] : [255, 128, 0, 255]));
  expect(meanOfBytes(halves, 5, 3, 1)).toEqual([1, srgbToLinear(128 / 255), 0]);
  // Two of five columns are dark.
  expect(meanOfBytes(halves, 3, 3, 5)![0]).toBeCloseTo(0.6, 6);
});

test('beyond the rim nothing counts, nor what is transparent', () => {
  const corner = picture(4, 4, (x, y) => (x === 0 && y === 0 ? [255, 255, 255, 255] : [0, 0, 0, 0]));
  expect(meanOfBytes(corner, 0, 0, 5)).toEqual([1, 1, 1]);
  expect(meanOfBytes(corner, 3, 3, 1)).toBeUndefined();
});
