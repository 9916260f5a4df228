import { oklch } from 'culori';
import fc from 'fast-check';
import { linearToSrgb, srgbToLinear } from '../../colour/srgb.ts';
import type { PointsValue } from '../../fields/field.ts';
import { wholeValues } from '../../fields/values.ts';
import type { PixelCorrection } from '../correction.ts';
import { colourCurves } from './colour-curves.ts';
import { curveOf, tableOf } from './curve.ts';
import { toneCurves } from './tone-curves.ts';

type Rgb = [number, number, number];
function through(correction: unknown, values: Record<string, PointsValue>, [r, g, b]: Rgb): Rgb {
  const c = correction as PixelCorrection;
  const planes = { r: Float32Array.of(r), g: Float32Array.of(g), b: Float32Array.of(b) };
  const rendered = { width: 1, height: 1, ...planes };
  c.apply(
    { count: 1, ...planes, at: Uint32Array.of(0), rendered, passes: {} },
    wholeValues(c.fields, values),
  );
  return [planes.r[0]!, planes.g[0]!, planes.b[0]!];
}
const point = fc.tuple(
  fc.double({ min: 0, max: 1, noNaN: true }),
  fc.double({ min: -50, max: 50, noNaN: true }),
);
// 0 and 1 are one place where a curve goes round: it has one value there.
const points = fc.uniqueArray(point, {
  minLength: 1,
  maxLength: 8,
  selector: ([x]) => Math.round(x * 200) % 200,
});

describe('a curve', () => {
  test('goes through its points, and stays between neighbours', () => {
    fc.assert(
      fc.property(points, fc.boolean(), (given, periodic) => {
        const curve = curveOf(given, periodic);
        const sorted = [...given].sort((a, b) => a[0] - b[0]);
        for (const [x, y] of sorted) expect(curve(x)).toBeCloseTo(y, 5);
        for (let i = 0; i + 1 < sorted.length; i++) {
          const [[x0, y0], [x1, y1]] = [sorted[i]!, sorted[i + 1]!];
          for (let k = 1; k < 8; k++) {
            const v = curve(x0 + ((x1 - x0) * k) / 8);
            expect(v).toBeGreaterThanOrEqual(Math.min(y0, y1) - 1e-9);
            expect(v).toBeLessThanOrEqual(Math.max(y0, y1) + 1e-9);
          }
        }
        if (periodic) expect(curve(0)).toBeCloseTo(curve(1), 5);
      }),
    );
  });
  test('is a number everywhere, however near its points are to each other and to nothing', () => {
    const near: PointsValue = [
      [0, -9e-18],
      [0.14285714285714252, 7.4e-323],
      [0.9999999999999997, 0],
    ];
    const curve = curveOf(near, true);
    for (let i = 0; i <= 100; i++) expect(Math.abs(curve(i / 100))).toBeLessThan(1e-6);
  });
  test('goes on level beyond its ends, and is nothing without points; a table is the same', () => {
    const curve = curveOf(
      [
        [0.3, 10],
        [0.6, -5],
      ],
      false,
    );
    expect([curve(0), curve(1), curveOf([], false)(0.4)]).toEqual([10, -5, 0]);
    const table = tableOf(
      [
        [0.3, 10],
        [0.6, -5],
      ],
      false,
    );
    for (let x = 0; x <= 1; x += 0.013) expect(table(x)).toBeCloseTo(curve(x), 2);
  });
});

describe('curves by brightness', () => {
  test('raise what is that bright on the screen, and only that', () => {
    const all: PointsValue = [
      [0.3, 0],
      [0.5, 20],
      [0.7, 0],
    ];
    const middle = srgbToLinear(0.5);
    const [r, g, b] = through(toneCurves, { all }, [middle, srgbToLinear(0.2), srgbToLinear(0.9)]);
    expect(linearToSrgb(r)).toBeCloseTo(0.7, 4);
    expect([linearToSrgb(g), linearToSrgb(b)]).toEqual([expect.closeTo(0.2, 4), expect.closeTo(0.9, 4)]);
    const red = through(toneCurves, { red: [[0.5, -10]] }, [middle, middle, middle]);
    expect(linearToSrgb(red[0])).toBeCloseTo(0.4, 4);
    expect([red[1], red[2]]).toEqual([Math.fround(middle), Math.fround(middle)]);
  });
  test('go on beyond white and below black without a step', () => {
    const all: PointsValue = [
      [0, 5],
      [1, -20],
    ];
    const at = (v: number) => through(toneCurves, { all }, [v, v, v])[0];
    expect(at(1.0001)).toBeCloseTo(at(0.9999), 3);
    expect(at(8)).toBeCloseTo(8 * at(1), 4);
    expect(at(1e-6)).toBeCloseTo(at(-1e-6), 4);
    expect(at(-0.5)).toBeCloseTo(-0.5 + srgbToLinear(0.05), 5);
  });
});

describe('curves by hue', () => {
  const lch = ([r, g, b]: Rgb) => oklch({ mode: 'lrgb', r, g, b });
  const lavender: Rgb = [0.16, 0.12, 0.35];
  const own = lch(lavender);
  const at = own.h! / 360;
  const around: PointsValue = [
    [at - 0.1, 0],
    [at, 1],
    [at + 0.1, 0],
  ];
  const times = (by: number): PointsValue => around.map(([x, y]) => [x, y * by] as const);

  test('turn, strengthen and brighten the hue that they are raised at, and no other', () => {
    expect(lch(through(colourCurves, { hueByHue: times(20) }, lavender)).h).toBeCloseTo(own.h! + 20, 0);
    expect(lch(through(colourCurves, { saturationByHue: times(-50) }, lavender)).c).toBeCloseTo(own.c / 2, 3);
    expect(lch(through(colourCurves, { lightnessByHue: times(30) }, lavender)).l).toBeCloseTo(own.l * 1.3, 2);
    const honey: Rgb = [0.7, 0.3, 0.03];
    const all = { hueByHue: times(20), saturationByHue: times(-50), lightnessByHue: times(30) };
    through(colourCurves, all, honey).forEach((v, k) => expect(v).toBeCloseTo(honey[k]!, 4));
  });
  test('leave greys alone; by lightness saturation goes', () => {
    const grey: Rgb = [0.3, 0.3, 0.3];
    const found = through(colourCurves, { hueByHue: [[0.5, 90]], lightnessByHue: [[0.5, 50]] }, grey);
    found.forEach((v) => expect(v).toBeCloseTo(0.3, 3));
    const dull = through(colourCurves, { saturationByLightness: [[own.l, -100]] }, lavender);
    expect(lch(dull).c).toBeLessThan(0.002);
  });
});
