import fc from 'fast-check';
import { linearToSrgb } from '../colour/srgb.ts';
import { buildIdIndex } from '../idindex/id-index.ts';
import { idOfName } from '../idlayers/ids.ts';
import { TILE, TILE_PIXELS } from '../planes/tiles.ts';
import { idColour } from './id-colours.ts';
import { showColours, showCutOut, showDimming, showIds, showMask } from './view.ts';

const planes = {
  r: Float32Array.from({ length: TILE_PIXELS }, (_, i) => (i % 9) / 8),
  g: Float32Array.from({ length: TILE_PIXELS }, (_, i) => (i % 7) / 4),
  b: new Float32Array(TILE_PIXELS),
};
const cover = Float32Array.from({ length: TILE_PIXELS }, (_, i) => [0, 0.5, 1, 0.25, 2][i % 5]!);

describe('looking at the picture', () => {
  test('shows sRGB after the view exposure', () => {
    fc.assert(
      fc.property(fc.integer({ min: -3, max: 3 }), (stops) => {
        const out = showColours(planes, stops);
        for (let p = 0; p < 63; p++) {
          const expected = Math.min(1, linearToSrgb(planes.r[p]! * 2 ** stops)) * 255;
          expect(Math.abs(out[4 * p]! - expected)).toBeLessThanOrEqual(0.51);
          expect(out[4 * p + 3]).toBe(255);
        }
      }),
    );
  });

  test('does not change the data', () => {
    const before = planes.r.slice();
    showColours(planes, 2);
    expect(planes.r).toEqual(before);
  });

  test('a mask is shown as it is: half coverage is half grey', () => {
    const grey = showMask(cover).filter((_, i) => i % 4 === 0);
    expect([...grey.subarray(0, 5)]).toEqual([0, 128, 255, 64, 255]);
    expect(showMask(undefined).every((v, i) => v === (i % 4 === 3 ? 255 : 0))).toBe(true);
  });

  test('a cut-out is the picture where covered and neutral elsewhere', () => {
    const full = showColours(planes, 0);
    const out = showCutOut(full, cover);
    expect([...out.subarray(8, 11)]).toEqual([...full.subarray(8, 11)]);
    expect(out[0]).toBe(out[1]);
    expect(out[1]).toBe(out[2]);
    // Squares of two greys, which are told apart.
    expect(new Set(showCutOut(full, undefined).filter((_, i) => i % 4 === 0)).size).toBe(2);
  });

  test('dimming leaves what the mask covers as it is', () => {
    const alpha = showDimming(cover, 100).filter((_, i) => i % 4 === 3);
    expect([...alpha.subarray(0, 5)]).toEqual([100, 50, 0, 75, 0]);
  });
});

describe('the ID map', () => {
  test('mixes the colours of a pixel by coverage, in any tile', () => {
    const [bee, hive] = [idOfName('bee'), idOfName('hive')];
    const [width, height] = [TILE + 2, TILE + 1];
    const index = buildIdIndex({
      width,
      height,
      ids: [new Uint32Array(width * height).fill(bee), new Uint32Array(width * height).fill(hive)],
      coverage: [
        Float32Array.from({ length: width * height }, (_, p) => (p % 2 ? 0.75 : 1)),
        Float32Array.from({ length: width * height }, (_, p) => (p % 2 ? 0.25 : 0)),
      ],
    });
    for (let tile = 0; tile < 4; tile++) {
      const out = showIds(index, tile);
      idColour(bee).forEach((v, k) => {
        expect(Math.abs(out[k]! - v)).toBeLessThanOrEqual(0.51);
        expect(Math.abs(out[4 + k]! - (0.75 * v + 0.25 * idColour(hive)[k]!))).toBeLessThanOrEqual(0.51);
      });
    }
  });

  test('gives names of one row colours that can be told apart', () => {
    const colours = Array.from({ length: 12 }, (_, i) => idColour(idOfName(`jar_${i}`)));
    let close = 0;
    for (let a = 0; a < colours.length; a++)
      for (let b = a + 1; b < colours.length; b++)
        if (Math.max(...colours[a]!.map((v, k) => Math.abs(v - colours[b]![k]!))) < 12) close++;
    expect(close).toBeLessThanOrEqual(2);
  });
});
