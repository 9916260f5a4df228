import { oklch } from 'culori';
import { srgbToLinear } from '../colour/srgb.ts';
import { TileMask } from '../masks/tile-mask.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { coloursAlong } from './colours-along.ts';

const SIZE = { width: 100, height: 80 };
type Rgb = readonly [number, number, number];
const LAVENDER: Rgb = [0.16, 0.12, 0.35];
const HONEY: Rgb = [0.7, 0.3, 0.03];

/** The left is of one colour, the right of another; under the mask is what `cover` says. */
function scene(left: Rgb, right: Rgb, cover: (x: number, y: number) => number) {
  const plane = (k: number) =>
    Float32Array.from(
      { length: SIZE.width * SIZE.height },
      (_, i) => (i % SIZE.width < 40 ? left : right)[k]!,
    );
  const picture: RgbPlanes = { ...SIZE, r: plane(0), g: plane(1), b: plane(2) };
  const mask = new TileMask(SIZE);
  for (let t = 0; t < mask.tileCount; t++) {
    const [x0, y0] = [(t % mask.tilesX) * 64, Math.floor(t / mask.tilesX) * 64];
    mask.replace(
      t,
      Float32Array.from({ length: 4096 }, (_, i) => {
        const [x, y] = [x0 + (i % 64), y0 + Math.floor(i / 64)];
        return x < SIZE.width && y < SIZE.height ? cover(x, y) : 0;
      }),
    );
  }
  return { picture, mask };
}
const hue = ([r, g, b]: Rgb) => oklch({ mode: 'lrgb', r, g, b }).h! / 360;
const full = (found: readonly { share: number }[]) => found.flatMap(({ share }, i) => (share > 0 ? [i] : []));

test('two colours lie at their hues, as much as is covered, and have their colours there', () => {
  const { picture, mask } = scene(LAVENDER, HONEY, (_, y) => (y < 40 ? 0.5 : 0));
  const found = coloursAlong(picture, mask, 'hue', undefined, 36);
  const [a, b] = [Math.floor(36 * hue(HONEY)), Math.floor(36 * hue(LAVENDER))];
  expect(full(found)).toEqual([a, b]);
  // Sixty columns of honey, forty of lavender.
  expect(found[a]!.share).toBeCloseTo(1, 6);
  expect(found[b]!.share).toBeCloseTo(40 / 60, 6);
  found[b]!.colour.forEach((v, k) => expect(v).toBeCloseTo(LAVENDER[k]!, 5));
});
test('greys have no hue, and lie at their lightness; brightness is that of a channel', () => {
  const grey = srgbToLinear(0.51);
  const { picture, mask } = scene([grey, grey, grey], [4, 0, 0], (x) => (x < 80 ? 1 : 0));
  expect(coloursAlong(picture, mask, 'hue', undefined, 36).filter((s) => s.share > 0.01)).toHaveLength(1);
  expect(full(coloursAlong(picture, mask, 'light', 'red', 10))).toEqual([5, 9]);
  expect(full(coloursAlong(picture, mask, 'light', 'blue', 10))).toEqual([0, 5]);
  const lightness = Math.floor(10 * oklch({ mode: 'lrgb', r: grey, g: grey, b: grey }).l);
  expect(coloursAlong(picture, mask, 'lightness', undefined, 10)[lightness]!.share).toBeGreaterThan(0);
});
test('under an empty mask there is nothing', () => {
  const { picture, mask } = scene(LAVENDER, HONEY, () => 0);
  expect(full(coloursAlong(picture, mask, 'light', undefined, 8))).toEqual([]);
});
