import fc from 'fast-check';
import { linearToSrgb } from '../colour/srgb.ts';
import { idOfName } from '../idlayers/ids.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import { idColour, viewCutOut, viewIds, viewMask, viewPicture } from './view.ts';

const area = { x0: 1, y0: 0, x1: 3, y1: 2 };
const planes = {
  width: 4,
  height: 2,
  r: Float32Array.from({ length: 8 }, (_, i) => i / 8),
  g: Float32Array.from({ length: 8 }, (_, i) => i / 4),
  b: new Float32Array(8),
};

describe('looking at the picture', () => {
  test('shows sRGB of the area only, after the view exposure', () => {
    fc.assert(
      fc.property(fc.integer({ min: -3, max: 3 }), (stops) => {
        const out = viewPicture(planes, area, stops);
        expect(out).toHaveLength(2 * 2 * 4);
        [1, 2, 5, 6].forEach((p, i) => {
          const expected = Math.min(1, linearToSrgb(planes.r[p]! * 2 ** stops)) * 255;
          expect(Math.abs(out[4 * i]! - expected)).toBeLessThanOrEqual(0.51);
          expect(out[4 * i + 3]).toBe(255);
        });
      }),
    );
  });

  test('does not change the data', () => {
    const before = planes.r.slice();
    viewPicture(planes, area, 2);
    expect(planes.r).toEqual(before);
  });

  test('a mask is shown as it is: half coverage is half grey', () => {
    const mask = Float32Array.of(0, 0.5, 1, 0, 0, 0.25, 2, 0);
    const grey = viewMask(mask, 4, area).filter((_, i) => i % 4 === 0);
    expect([...grey]).toEqual([128, 255, 64, 255]);
  });

  test('a cut-out is the picture where covered and neutral elsewhere', () => {
    const mask = Float32Array.of(0, 1, 0, 0, 0, 0, 1, 0);
    const out = viewCutOut(planes, mask, area, 0);
    const full = viewPicture(planes, area, 0);
    expect([...out.subarray(0, 3)]).toEqual([...full.subarray(0, 3)]);
    expect(out[4]).toBe(out[5]);
    expect(out[5]).toBe(out[6]);
  });
});

describe('the ID map', () => {
  test('mixes the colours of a pixel by coverage', () => {
    const [bee, hive] = [idOfName('bee'), idOfName('hive')];
    const ranks: RankPlanes = {
      width: 2,
      height: 1,
      ids: [Uint32Array.of(bee, bee), Uint32Array.of(0, hive)],
      coverage: [Float32Array.of(1, 0.75), Float32Array.of(0, 0.25)],
    };
    const out = viewIds(ranks, { x0: 0, y0: 0, x1: 2, y1: 1 });
    idColour(bee).forEach((v, k) => {
      expect(Math.abs(out[k]! - v)).toBeLessThanOrEqual(0.51);
      expect(Math.abs(out[4 + k]! - (0.75 * v + 0.25 * idColour(hive)[k]!))).toBeLessThanOrEqual(0.51);
    });
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
