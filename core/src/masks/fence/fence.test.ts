import fc from 'fast-check';
import { amountOf } from '../../fields/amount.ts';
import { wholeValues } from '../../fields/values.ts';
import type { FieldValues } from '../../fields/field.ts';
import type { Size } from '../../planes/size.ts';
import { insideOf } from './join-fence.ts';
import { FENCE_KINDS, fenceKindOf } from './registry.ts';
import { fenceSettings } from './settings.ts';
import { curveThrough } from './smooth-curve.ts';

const FRAME: Size = { width: 200, height: 100 };
function fence(uses: readonly (readonly [kind: string, values: FieldValues])[], frame = FRAME) {
  const shapes = uses.map(([kind, values]) => {
    const of = fenceKindOf(kind)!;
    return { kind: of, values: wholeValues(fenceSettings(of), values) };
  });
  const out = new Float32Array(frame.width * frame.height);
  insideOf(shapes, frame, { x0: 0, y0: 0, x1: frame.width, y1: frame.height }, out);
  return {
    at: (x: number, y: number) => out[y * frame.width + x]!,
    area: out.reduce((sum, c) => sum + c, 0),
  };
}

test.each<[string, FieldValues, number]>([
  ['ellipse', { width: 40, height: 20 }, Math.PI * 40 * 20],
  ['ellipse', { width: 40, height: 20, angle: 30 }, Math.PI * 40 * 20],
  // A soft border covers a little more outside of a circle than it leaves out inside.
  ['ellipse', { width: 30, height: 30, soft: 8 }, Math.PI * (30 ** 2 + 16 ** 2 / 12)],
  ['rectangle', { width: 40, height: 20 }, 80 * 40],
  ['rectangle', { width: 25, height: 15, angle: 37, x: 40 }, 50 * 30],
  // A triangle of base 100 and height 50, and a bow tie, of which both wings count.
  ['polygon', { points: [[25, 25], [75, 25], [50, 75]] }, (100 * 50) / 2], // prettier-ignore
  ['polygon', { points: [[25, 25], [75, 75], [75, 25], [25, 75]] }, (100 * 50) / 2], // prettier-ignore
  ['straight-ramp', { x: 25, y: 50, toX: 75, toY: 50 }, 50 * 100 + (100 * 100) / 2],
  ['round-ramp', { inner: 10, outer: 20 }, (Math.PI / 3) * (20 ** 2 + 20 * 40 + 40 ** 2)],
])('%s %j covers the area that geometry says', (kind, values, area) => {
  expect(Math.abs(fence([[kind, values]]).area / area - 1)).toBeLessThan(0.012);
});

test('a curve goes through its points, and is smooth there', () => {
  const points = [
    [0, 0],
    [10, 2],
    [12, 9],
    [3, 8],
  ] as const;
  const line = curveThrough(points);
  for (const p of points) expect(line).toContainEqual([...p]);
  for (let i = 0; i < line.length; i++) {
    const [a, b, c] = [-1, 0, 1].map((k) => line[(i + k + line.length) % line.length]!);
    const turn = Math.atan2(c![1] - b![1], c![0] - b![0]) - Math.atan2(b![1] - a![1], b![0] - a![0]);
    expect(Math.abs(Math.atan2(Math.sin(turn), Math.cos(turn)))).toBeLessThan(0.6);
  }
});

test('softness falls over so many pixels, half of it inside', () => {
  const at = fence([['rectangle', { width: 50, height: 100, soft: 10 }]]).at;
  // The right border is at 150; 10 % of 200 pixels.
  expect([138, 140, 149, 150, 159, 162].map((x) => at(x, 50))).toEqual(
    [138, 140, 149, 150, 159, 162].map((x) =>
      expect.closeTo(Math.min(1, Math.max(0, 0.5 - (x + 0.5 - 150) / 20)), 5),
    ),
  );
});

describe('shapes', () => {
  const big = ['rectangle', { width: 60, height: 40 }] as const;
  const small = { width: 20, height: 20 };
  test('are added, cut out, or limit what is there', () => {
    const where = (uses: (readonly [string, FieldValues])[]) => {
      const { at } = fence(uses);
      return [at(100, 50), at(50, 50), at(5, 5)].map(Math.round);
    };
    expect(where([big])).toEqual([1, 1, 0]);
    expect(where([big, ['ellipse', { ...small, join: 'cut' }]])).toEqual([0, 1, 0]);
    expect(where([big, ['ellipse', { ...small, join: 'inside' }]])).toEqual([1, 0, 0]);
    // One that is cut out first is cut out of everything.
    expect(where([['ellipse', { ...small, join: 'cut' }]])).toEqual([0, 1, 1]);
    expect(
      where([
        ['ellipse', { ...small, join: 'cut' }],
        ['ellipse', { width: 5, height: 5 }],
      ]),
    ).toEqual([1, 1, 1]);
  });
  test('count as much as their amount', () => {
    expect(fence([['rectangle', { width: 60, height: 40, amount: 30 }]]).at(100, 50)).toBeCloseTo(0.3, 5);
    const { at } = fence([big, ['ellipse', { ...small, join: 'inside', amount: 25 }]]);
    expect(at(50, 50)).toBeCloseTo(0.75, 5);
    expect(amountOf({})).toBe(1);
  });
  test('fit a picture of another size', () => {
    const twice = { width: 400, height: 200 };
    for (const { kind } of FENCE_KINDS) {
      const values = kind === 'ellipse' || kind === 'rectangle' ? { angle: 20, soft: 6 } : {};
      const [one, two] = [fence([[kind, values]]), fence([[kind, values]], twice)];
      for (let y = 0; y < 100; y += 7)
        for (let x = 0; x < 200; x += 7) {
          const mean = (two.at(2 * x, 2 * y) + two.at(2 * x + 1, 2 * y) + two.at(2 * x, 2 * y + 1) + two.at(2 * x + 1, 2 * y + 1)) / 4; // prettier-ignore
          expect(Math.abs(one.at(x, y) - mean)).toBeLessThan(0.15);
        }
    }
  });
  test('are the same by tiles and as a whole, and never more than all', () => {
    for (const kind of FENCE_KINDS)
      fc.assert(
        fc.property(
          fc.double({ min: -50, max: 150, noNaN: true }),
          fc.integer({ min: 0, max: 90 }),
          (x, soft) => {
            const values = wholeValues(fenceSettings(kind), { ...('x' in kind.fields ? { x } : {}), soft });
            const whole = new Float32Array(40 * 40);
            kind.rasterise(values, FRAME, { x0: 60, y0: 20, x1: 100, y1: 60 }, whole);
            expect(whole.every((c) => c >= 0 && c <= 1)).toBe(true);
            const part = new Float32Array(10 * 10);
            kind.rasterise(values, FRAME, { x0: 70, y0: 30, x1: 80, y1: 40 }, part);
            for (let i = 0; i < 100; i++)
              expect(part[i]).toBe(whole[(10 + Math.floor(i / 10)) * 40 + 10 + (i % 10)]);
          },
        ),
        { numRuns: 5 },
      );
  });
  test('follow their handles', () => {
    for (const kind of FENCE_KINDS) {
      const values = wholeValues(fenceSettings(kind), {});
      for (const { key, at } of kind.handles(values, FRAME)) {
        if (key === 'soft') continue;
        const to = [at[0] + 8, at[1] + 6] as const;
        const moved = { ...values, ...kind.drag(values, FRAME, key, to) } as typeof values;
        expect(moved).not.toEqual(values);
        const now = kind.handles(moved, FRAME).find((h) => h.key === key)!.at;
        // It follows along the way that it can go.
        const before = Math.hypot(at[0] - to[0], at[1] - to[1]);
        expect(Math.hypot(now[0] - to[0], now[1] - to[1])).toBeLessThan(0.95 * before);
      }
      expect(kind.outline(values, FRAME).length).toBeGreaterThan(0);
    }
  });
});
