import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { TileMask } from '../masks/tile-mask.ts';
import { TILE, TILE_PIXELS } from '../planes/tiles.ts';
import { smallMask } from './small-picture.ts';

/** A mask of rectangles. */
function maskOf(width: number, height: number, covered: (x: number, y: number) => number): TileMask {
  const mask = new TileMask({ width, height });
  for (let t = 0; t < mask.tileCount; t++) {
    const [x0, y0] = [(t % mask.tilesX) * TILE, Math.floor(t / mask.tilesX) * TILE];
    const tile = Float32Array.from({ length: TILE_PIXELS }, (_, i) => {
      const [x, y] = [x0 + (i % TILE), y0 + Math.floor(i / TILE)];
      return x < width && y < height ? covered(x, y) : 0;
    });
    mask.replace(t, tile);
  }
  return mask;
}

test('a small mask is the mask from afar: half covered is half grey, and each half where it is', () => {
  fc.assert(
    fc.property(fc.integer({ min: 40, max: 300 }), fc.integer({ min: 40, max: 200 }), (width, height) => {
      const {
        width: w,
        height: h,
        data,
      } = smallMask(
        maskOf(width, height, (x) => (x < width / 2 ? 1 : 0)),
        40,
      );
      expect(Math.max(w, h)).toBeLessThanOrEqual(40);
      const at = (u: number, v: number) => data[4 * (v * w + u)]!;
      for (let v = 0; v < h; v++) {
        expect(at(0, v)).toBe(255);
        expect(at(w - 1, v)).toBe(0);
      }
      const mean = Array.from({ length: w * h }, (_, i) => data[4 * i]!).reduce((a, b) => a + b, 0) / (w * h);
      expect(Math.abs(mean - 127.5)).toBeLessThan(255 / w);
      expect(data.every((v, i) => i % 4 < 3 || v === 255)).toBe(true);
    }),
    { numRuns: runs(40) },
  );
});

test('an empty mask is black', () =>
  expect(
    smallMask(new TileMask({ width: 64, height: 64 }), 8).data.every((v, i) => v === (i % 4 < 3 ? 0 : 255)),
  ).toBe(true));
