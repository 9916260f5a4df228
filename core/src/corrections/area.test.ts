import fc from 'fast-check';
import { gaussian, whole } from '../../test/fixtures/whole-area.ts';
import { boxBlur, boxOfVariance, boxReach } from '../planes/box-blur.ts';

test.each([0.4, 1, 2.7, 10, 31])(
  'three boxes for a deviation of %f have just that, and keep light',
  (sigma) => {
    const box = boxOfVariance(sigma ** 2 / 3);
    const reach = boxReach(box, 3);
    // All the same from row to row.
    const [n, rows] = [4 * reach + 1, 2 * reach + 1];
    const plane = Float32Array.from({ length: n * rows }, (_, i) => (i % n === 2 * reach ? 1 : 0));
    let [sum, variance] = [0, 0];
    boxBlur(plane, n, rows, box, 3).forEach((v, i) => {
      sum += v;
      variance += v * (i - reach) ** 2;
    });
    expect(sum).toBeCloseTo(1, 5);
    expect(Math.sqrt(variance)).toBeCloseTo(sigma, 3);
  },
);

describe('blur', () => {
  test.each([3, 8, 20])(
    'of a step of colour inside the mask is the integral of a Gaussian, size %i',
    (size) => {
      const { at } = whole(
        'blur',
        { size },
        160,
        5,
        (x) => (x < 80 ? 0.2 : 1),
        () => 1,
      );
      for (let x = 40; x < 120; x++)
        expect(Math.abs(at(x, 2) - (0.2 + 0.8 * gaussian(x - 79.5, size / 2)))).toBeLessThan(0.012);
    },
  );
  test('lets nothing in from outside: a mask that ends at a step of light keeps its colour', () => {
    const { at } = whole(
      'blur',
      { size: 12 },
      96,
      40,
      (x) => (x < 48 ? 0.3 : 900),
      (x) => (x < 48 ? 1 : 0),
    );
    for (let x = 0; x < 48; x++) expect(at(x, 20)).toBeCloseTo(0.3, 5);
  });
  test('weighs by coverage: the mean of what a soft mask covers', () => {
    // Two colours in stripes of two pixels; one of them counts a third.
    const odd = (x: number) => x % 4 < 2;
    const { at } = whole(
      'blur',
      { size: 40 },
      200,
      60,
      (x) => (odd(x) ? 0.3 : 0.9),
      (x) => (odd(x) ? 1 : 1 / 3),
    );
    expect(at(100, 30)).toBeCloseTo((0.3 + 0.9 / 3) / (1 + 1 / 3), 2);
  });
  test('passes over what is no finite colour', () => {
    const { out, at } = whole(
      'blur',
      { size: 6 },
      30,
      30,
      (x, y) => (x === 15 && y === 15 ? Infinity : 0.5),
      () => 1,
    );
    expect(at(15, 15)).toBe(Infinity);
    expect(out.filter((v) => v !== Infinity).every((v) => Math.abs(v - 0.5) < 1e-5)).toBe(true);
  });
});

test('sharpening is the other way: what it adds is what a blur of the size takes away', () => {
  fc.assert(
    fc.property(fc.integer({ min: 2, max: 9 }), fc.integer({ min: 10, max: 300 }), (size, strength) => {
      const colour = (x: number, y: number) => 0.4 + 0.3 * Math.sin(x * 0.7) * Math.cos(y * 0.5);
      const cover = (x: number) => (x > 20 ? 1 : 0.4);
      const blurred = whole('blur', { size }, 48, 32, colour, cover);
      const sharp = whole('sharpen', { size, strength, beyond: 20 }, 48, 32, colour, cover);
      for (const [x, y] of [
        [10, 10],
        [24, 16],
        [40, 30],
      ] as const) {
        const own = colour(x, y);
        expect(sharp.at(x, y)).toBeCloseTo(own + (strength / 100) * (own - blurred.at(x, y)), 4);
      }
    }),
    { numRuns: 20 },
  );
});

test('a glow adds the light above its threshold, spread beyond the mask, and no other', () => {
  const lamp = (x: number, y: number) => Math.hypot(x - 60, y - 60) < 8;
  const values = { strength: 50, threshold: 1, size: 10, tint: [1, 1, 1] };
  const { out } = whole(
    'glow',
    values,
    121,
    121,
    (x, y) => (lamp(x, y) ? 5 : 0.5),
    (x, y) => (lamp(x, y) ? 1 : 0),
  );
  let [excess, added, beyond] = [0, 0, 0];
  for (let y = 0; y < 121; y++)
    for (let x = 0; x < 121; x++) {
      const before = lamp(x, y) ? 5 : 0.5;
      if (lamp(x, y)) excess += 4;
      const more = out[y * 121 + x]! - before;
      added += more;
      if (!lamp(x, y) && more > 1e-4) beyond++;
    }
  expect(added).toBeCloseTo(0.5 * excess, 0);
  expect(beyond).toBeGreaterThan(200);
  // Nothing is bright enough, or nothing is covered: not a bit changes.
  const dark = whole(
    'glow',
    { ...values, threshold: 6 },
    40,
    40,
    () => 5,
    () => 1,
  );
  const bare = whole(
    'glow',
    values,
    40,
    40,
    () => 5,
    () => 0,
  );
  expect([...new Set([...dark.out, ...bare.out])]).toEqual([5]);
});

describe('local contrast', () => {
  test('leaves what is even, and pulls a small bright thing away from what surrounds it by the strength', () => {
    const even = whole(
      'local-contrast',
      { strength: 100, size: 10 },
      40,
      40,
      () => 0.3,
      () => 1,
    );
    for (const v of even.out) expect(v).toBeCloseTo(0.3, 5);
    const dot = (x: number, y: number) => (x === 20 && y === 20 ? 0.6 : 0.3);
    const { at } = whole('local-contrast', { strength: 100, size: 16 }, 41, 41, dot, () => 1);
    // Twice as bright as its surroundings: twice as bright again, and a little less for what it adds to them.
    expect(at(20, 20)).toBeGreaterThan(1.15);
    expect(at(20, 20)).toBeLessThan(1.2);
    expect(at(2, 2)).toBeCloseTo(0.3, 4);
  });
  test('nothing outside the mask has a say', () => {
    const bright = (x: number) => (x < 20 ? 0.3 : 50);
    const { at } = whole('local-contrast', { strength: 80, size: 12 }, 40, 20, bright, (x) =>
      x < 20 ? 1 : 0,
    );
    for (let x = 0; x < 20; x++) expect(at(x, 10)).toBeCloseTo(0.3, 5);
  });
});

describe('denoise', () => {
  const noise = (x: number, y: number) => ((Math.imul(x + 97 * y, 2654435761) >>> 0) / 2 ** 32 - 0.5) * 0.06;
  test('takes noise off, keeps the mean and a sharp edge', () => {
    const scene = (x: number, y: number) => (x < 20 ? 0.2 : 0.8) + noise(x, y);
    const { at } = whole('denoise', { strength: 50, radius: 4 }, 40, 40, scene, () => 1);
    const spread = (of: (x: number, y: number) => number, x0: number) => {
      const v = Array.from({ length: 200 }, (_, i) => of(x0 + (i % 10), 10 + Math.floor(i / 10)));
      const mean = v.reduce((a, b) => a + b, 0) / v.length;
      return { mean, by: Math.sqrt(v.reduce((a, b) => a + (b - mean) ** 2, 0) / v.length) };
    };
    for (const x0 of [5, 25]) {
      expect(spread(at, x0).by).toBeLessThan(0.4 * spread(scene, x0).by);
      expect(spread(at, x0).mean).toBeCloseTo(spread(scene, x0).mean, 2);
    }
    expect(at(20, 20) - at(19, 20)).toBeGreaterThan(0.55);
  });
  test('nothing outside the mask bleeds in, and no number is left alone', () => {
    const scene = (x: number) => (x < 20 ? 0.3 : x === 25 ? NaN : 0.31);
    const { at } = whole('denoise', { strength: 100, radius: 5 }, 40, 12, scene, (x) => (x < 20 ? 1 : 0));
    for (let x = 0; x < 20; x++) expect(at(x, 6)).toBeCloseTo(0.3, 6);
  });
});

describe('a glow inwards', () => {
  const [size, strength] = [12, 50];
  const values = { strength, size, colour: [1, 1, 1] };
  test('is the share of what is outside, softened, twice as much as at the edge', () => {
    const { at } = whole(
      'inner-glow',
      values,
      120,
      80,
      () => 0.2,
      (x) => (x < 60 ? 1 : 0),
    );
    for (let x = 40; x < 60; x++)
      expect(at(x, 40)).toBeCloseTo(0.2 + 2 * (strength / 100) * (1 - gaussian(60 - x - 0.5, size / 2)), 1);
  });
  test('is none where the frame cuts a thing off', () => {
    const { at } = whole(
      'inner-glow',
      values,
      60,
      40,
      () => 0.2,
      () => 1,
    );
    expect(at(0, 0)).toBeCloseTo(0.2, 6);
  });
});

test.each([
  ['added to the light there', 'add', 2.2],
  ['in place of it', 'replace', 2],
])('a core is the mask, shrunk and softened, in its colour, %s', (_, way, middle) => {
  const values = { strength: 100, shrink: 8, size: 6, colour: [2, 2, 2], way };
  const inside = (x: number) => (x < 60 ? 1 : 0);
  const { at } = whole('core', values, 120, 60, () => 0.2, inside);
  const by = middle - 0.2;
  for (let x = 35; x < 60; x++)
    expect(Math.abs(at(x, 30) - 0.2 - by * gaussian(60 - 8 - x - 0.5, 3))).toBeLessThan(0.05);
  expect(at(59, 30)).toBeLessThan(0.25);
  expect(at(20, 30)).toBeCloseTo(middle, 4);
});

test('a core makes no highlight darker', () => {
  const { out } = whole(
    'core',
    { strength: 80 },
    60,
    60,
    (x, y) => (x === 30 && y === 30 ? 37 : 0.2),
    () => 1,
  );
  expect(out[30 * 60 + 30]).toBeCloseTo(37 + 0.8 * 2, 4);
  expect(Math.min(...out)).toBeGreaterThanOrEqual(0.2);
});

describe.each(['sharpen', 'local-contrast'])('%s beside something bright', (kind) => {
  const speck = (x: number, y: number) => (x === 20 && y === 20 ? 37 : 0.01 + 0.001 * ((x + y) % 3));
  const around = (x: number, y: number) =>
    [-1, 0, 1].flatMap((v) =>
      [-1, 0, 1].map((u) => speck(Math.min(40, Math.max(0, x + u)), Math.min(40, Math.max(0, y + v)))),
    );
  test.each([0, 1, 2.5])('goes no more than %d stops beyond what lies around', (beyond) => {
    const { at } = whole(kind, { strength: 300, size: 6, beyond }, 41, 41, speck, () => 1);
    for (let y = 0; y < 41; y += 4)
      for (let x = 0; x < 41; x += 4) {
        expect(at(x, y)).toBeGreaterThanOrEqual((Math.min(...around(x, y)) / 2 ** beyond) * (1 - 1e-5));
        expect(at(x, y)).toBeLessThanOrEqual(Math.max(...around(x, y)) * 2 ** beyond * (1 + 1e-5));
      }
    for (const [x, y] of [
      [19, 20],
      [21, 21],
      [20, 20],
      [18, 22],
    ] as const)
      expect(at(x, y)).toBeGreaterThan(0);
  });
});
test('sharpening without a limit goes below black beside a speck', () => {
  const { at } = whole(
    'sharpen',
    { strength: 300, size: 6, beyond: 20 },
    41,
    41,
    (x, y) => (x === 20 && y === 20 ? 37 : 0.01),
    () => 1,
  );
  expect(at(20, 22)).toBeLessThan(-0.5);
});
