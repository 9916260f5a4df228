import { converter } from 'culori';
import fc from 'fast-check';
import { linearToSrgb } from '../colour/srgb.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { scopeOf, SCOPES } from './registry.ts';
import { meansIn } from './sample.ts';
import type { Counts } from './scope.ts';
import { countWarnings, showWarnings, WARNINGS } from './warnings.ts';

type Three = readonly [number, number, number];
const picture = (width: number, height: number, of: (x: number, y: number) => Three): RgbPlanes => {
  const plane = (k: number) =>
    Float32Array.from({ length: width * height }, (_, p) => of(p % width, Math.floor(p / width))[k]!);
  return { width, height, r: plane(0), g: plane(1), b: plane(2) };
};
const sum = (plane: Float32Array) => plane.reduce((a, b) => a + b, 0);
const fullest = ({ width, planes }: Counts, k = 0) => {
  const at = planes[k]!.indexOf(Math.max(...planes[k]!));
  return [at % width, Math.floor(at / width)] as const;
};
const count = (name: string, of: RgbPlanes) => scopeOf(name)!.count(of, { of: 'frame' });

test.each(SCOPES.map((s) => s.name))('%s counts every pixel once, whatever its values', (name) => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ noNaN: true, noDefaultInfinity: true }), { minLength: 12, maxLength: 12 }),
      (v) => {
        const { planes } = count(
          name,
          picture(2, 2, (x, y) => [v[x]!, v[4 + y]!, v[8 + x + y]!]),
        );
        for (const plane of planes) expect(sum(plane)).toBe(4);
      },
    ),
  );
  // What is no number is none.
  const [plane] = count(
    name,
    picture(3, 1, (x) => [x === 1 ? NaN : 0.5, 0.5, x === 2 ? Infinity : 0.5]),
  ).planes;
  expect(sum(plane!)).toBe(1);
});

test.each(SCOPES.map((s) => s.name))('%s of some pixels is nearly that of all of them', (name) => {
  const grain = (x: number, y: number) => Math.abs(Math.sin(12.9898 * x + 78.233 * y) * 43758.5453) % 1;
  const of = picture(320, 200, (x, y) => [x / 320, grain(x, y) ** 2, y / 200]);
  const [all, some] = [Infinity, 6000].map((most) => scopeOf(name)!.count(of, { of: 'frame' }, most));
  all!.planes.forEach((plane, k) => {
    const few = some!.planes[k]!;
    expect(few.filter((n) => n > 0).length).toBeLessThanOrEqual(6000);
    expect(Math.abs(sum(few) / sum(plane) - 1)).toBeLessThan(0.03);
    // By eighths of the plane: single cells differ by chance.
    const eighths = (p: Float32Array) =>
      Array.from({ length: 8 }, (_, i) => sum(p.subarray((i * p.length) / 8, ((i + 1) * p.length) / 8)));
    eighths(few).forEach((n, i) => expect(Math.abs(n - eighths(plane)[i]!)).toBeLessThan(0.03 * sum(plane)));
  });
});

test('a histogram has a grey where the screen shows it', () => {
  const { planes } = count(
    'histogram',
    picture(4, 4, () => [0.18, 0.18, 0.18]),
  );
  const cell = Math.floor(((linearToSrgb(0.18) + 0.05) / 1.2) * 256);
  for (const plane of planes) expect(plane[cell]).toBe(16);
});

test('a waveform of a ramp rises from left to right, and each column stands at its place', () => {
  const found = count(
    'waveform',
    picture(256, 2, (x) => [x / 255, 0.5, 0]),
  );
  const rowAt = (x: number, k: number) =>
    Array.from({ length: found.height }, (_, y) => found.planes[k]![y * found.width + x]!).findIndex(
      (n) => n > 0,
    );
  for (const x of [0, 40, 128, 255])
    expect(Math.abs(rowAt(x, 0) + 0.5 - ((1.15 - linearToSrgb(x / 255)) / 1.2) * found.height)).toBeLessThan(
      0.51,
    );
  expect(rowAt(200, 1)).toBe(rowAt(10, 1));
});

test('a vectorscope has greys in the middle, and primaries where BT.709 says', () => {
  const { place } = scopeOf('vectorscope')!;
  // Cb of blue and Cr of red are one half, of the other one less.
  expect(place!([0, 0, 1])[0]).toBeCloseTo(1, 4);
  expect(place!([1, 0, 0])[1]).toBeCloseTo(0, 4);
  expect(place!([1, 0, 0])[0]).toBeCloseTo(0.5 - 0.2126 / 1.8556, 4);
  const [x, y] = fullest(
    count(
      'vectorscope',
      picture(3, 3, () => [0.3, 0.3, 0.3]),
    ),
  );
  expect([x, y]).toEqual([96, 96]);
});

test('hue and chroma are those of Oklab, and alike in light and shadow', () => {
  const { place } = scopeOf('hue-chroma')!;
  const oklch = converter('oklch');
  for (const c of [
    [0.5, 0.1, 0.1],
    [0.1, 0.4, 0.2],
    [0.2, 0.2, 0.6],
  ] as const) {
    const { h, c: chroma, l } = oklch({ mode: 'lrgb', r: c[0], g: c[1], b: c[2] });
    const [x, y] = place!(c);
    expect(((Math.atan2(0.5 - y, x - 0.5) * 180) / Math.PI + 360) % 360).toBeCloseTo(h!, 1);
    expect((2 * Math.hypot(x - 0.5, y - 0.5)) ** 2 * 0.7).toBeCloseTo(chroma / l, 3);
    const dark = place!([c[0] / 8, c[1] / 8, c[2] / 8]);
    expect(dark[0]).toBeCloseTo(x, 3);
  }
});

test('an area counts only itself; a sample is its mean before and after', () => {
  const ramp = picture(20, 10, (x, y) => [x, y, 1]);
  const double = picture(20, 10, (x, y) => [2 * x, 2 * y, 2]);
  const area = { x0: 4, y0: 3, x1: 7, y1: 6 };
  expect(sum(scopeOf('histogram')!.count(ramp, { of: 'area', area }).planes[0]!)).toBe(9);
  expect(meansIn([ramp, double], { of: 'area', area })).toEqual([
    [5, 4, 1],
    [10, 8, 2],
  ]);
  // At the border there is less of it.
  expect(meansIn([ramp], { of: 'area', area: { x0: -2, y0: -2, x1: 1, y1: 1 } })).toEqual([[0, 0, 1]]);
  expect(meansIn([ramp], { of: 'area', area: { x0: 50, y0: 0, x1: 55, y1: 5 } })).toBeUndefined();
});

describe('warnings', () => {
  const rendered = picture(8, 8, () => [0.5, 0.5, 0.5]);
  const now = picture(8, 8, (x, y) =>
    y === 0 ? [2, 0.5, 0.5] : y === 1 && x < 3 ? [0.5, -0.2, 0.5] : [0.5, 0.5, 0.5],
  );
  const covered = Uint8Array.from({ length: 64 }, (_, p) => (p < 8 ? 1 : 0));
  const guessed = Uint8Array.from({ length: 64 }, (_, p) => (p > 61 ? 1 : 0));
  const watched = { now, rendered, covered, guessed, gain: 1 };
  const names = WARNINGS.map((w) => w.name);

  test('count the pixels that they are about', () => {
    expect(countWarnings(watched, names)).toEqual({
      ...{ clipped: 8, negative: 3, gamut: 3, outside: 3, guessed: 2 },
    });
    expect(countWarnings({ ...watched, guessed: undefined }, ['guessed'])).toEqual({ guessed: 0 });
    expect(countWarnings({ ...watched, gain: 0.25 }, ['clipped'])).toEqual({ clipped: 0 });
    expect(countWarnings({ ...watched, gain: 4 }, ['clipped'])).toEqual({ clipped: 64 });
  });

  test('a colour of wider primaries may be none of the screen', () => {
    // The green of P3 in Rec. 709.
    const toScreen = [
      [1.2249, -0.2247, 0],
      [-0.042, 1.0419, 0],
      [-0.0197, -0.0786, 1.0979],
    ];
    const green = { ...picture(2, 1, (x) => (x ? [0, 1, 0] : [0.4, 0.5, 0.4])), toScreen };
    expect(countWarnings({ ...watched, now: green, rendered: green }, ['gamut', 'negative'])).toEqual({
      gamut: 1,
      negative: 0,
    });
  });

  test('marks only what they are about', () => {
    const tile = showWarnings(watched, 0, ['negative']);
    const marked = [...Array(64).keys()].filter((x) => tile[4 * (64 + x) + 3] === 255);
    expect(marked).toEqual([0, 1, 2]);
    expect(tile.filter((v, i) => i % 4 === 3 && v > 0)).toHaveLength(3);
  });
});
