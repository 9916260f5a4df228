import { fileOf } from '../../test/fixtures/frames.ts';
import { applyChanges } from '../apply/apply-changes.ts';
import { noMask, type Change } from '../changes/change.ts';
import type { FieldValue } from '../fields/field.ts';
import { wholeValues } from '../fields/values.ts';
import { openFrame } from '../version/open-frame.ts';
import type { PixelCorrection } from './correction.ts';
import { correctionOf } from './registry.ts';

const grain = correctionOf('grain') as PixelCorrection;
const [SIDE, LIGHT] = [256, 0.4];

/** Grain at full strength on an even grey, as a factor of its light, by channels. */
function grained(values: Record<string, FieldValue>, frameNumber?: number): Float32Array[] {
  const count = SIDE * SIDE;
  const even = () => new Float32Array(count).fill(LIGHT);
  const [r, g, b] = [even(), even(), even()];
  const rendered = { width: SIDE, height: SIDE, r: even(), g: even(), b: even(), frameNumber };
  const at = Uint32Array.from({ length: count }, (_, i) => i);
  grain.apply(
    { count, r, g, b, at, rendered, passes: {} },
    wholeValues(grain.fields, { strength: 100, ...values }),
  );
  return [r, g, b].map((plane) => plane.map((v) => v / LIGHT));
}
const mean = (values: ArrayLike<number>) => Array.from(values).reduce((sum, v) => sum + v, 0) / values.length;
const stops = (factors: Float32Array) => factors.map(Math.log2);
const spread = (values: Float32Array) => {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((v) => (v - middle) ** 2)));
};
/** Pearson's coefficient. */
function alike(a: Float32Array, b: Float32Array): number {
  const [ma, mb] = [mean(a), mean(b)];
  return mean(a.map((v, i) => (v - ma) * (b[i]! - mb))) / (spread(a) * spread(b));
}
/** How alike pixels are that lie so far apart in a row. */
function alikeAcross(values: Float32Array, apart: number): number {
  const rows = Array.from({ length: SIDE }, (_, y) => values.subarray(y * SIDE, (y + 1) * SIDE));
  const joined = (from: number) =>
    Float32Array.from(rows.flatMap((row) => [...row.subarray(from, from + SIDE - apart)]));
  return alike(joined(0), joined(apart));
}

test.each([
  [1, 0],
  [1, 50],
  [1, 100],
  [3.5, 0],
  [3.5, 60],
])('at %s px and %s %% of colour the mean stays, and the spread is half a stop', (size, colour) => {
  for (const plane of grained({ size, colour })) {
    // Points of the lattice are fewer than pixels.
    expect(Math.abs(mean(plane) - 1)).toBeLessThan(size > 1 ? 0.015 : 0.005);
    expect(Math.abs(spread(stops(plane)) - 0.5)).toBeLessThan(0.02);
  }
});
test('it is the same each time, another in each frame and with each seed, and none of them is like another', () => {
  const made = [grained({}, 7), grained({}, 8), grained({}), grained({ seed: 1 }, 7)].map(([r]) => stops(r!));
  expect(stops(grained({}, 7)[0]!)).toEqual(made[0]);
  for (const [i, a] of made.entries())
    for (const b of made.slice(i + 1)) expect(Math.abs(alike(a, b))).toBeLessThan(0.02);
});
test('without colour all channels are alike, in full colour none is like another', () => {
  const [r, g, b] = grained({});
  expect([g, b]).toEqual([r, r]);
  const [red, green, blue] = grained({ colour: 100 }).map(stops);
  for (const [one, other] of [
    [red!, green!],
    [green!, blue!],
    [red!, blue!],
  ] as const)
    expect(Math.abs(alike(one, other))).toBeLessThan(0.02);
});
test('its size is in pixels: neighbours are alike within it, and what lies two sizes apart is not', () => {
  const fine = stops(grained({ size: 1 })[0]!);
  expect(Math.abs(alikeAcross(fine, 1))).toBeLessThan(0.02);
  for (const size of [3, 6]) {
    const coarse = stops(grained({ size })[0]!);
    expect(alikeAcross(coarse, 1)).toBeGreaterThan(0.6);
    expect(Math.abs(alikeAcross(coarse, 2 * size))).toBeLessThan(0.06);
  }
});
test('frames of a sequence are told apart all the way from their files', async () => {
  const bytes = fileOf(
    { B: () => LIGHT, G: () => LIGHT, R: () => LIGHT, 'id.Y': () => 1 },
    { width: 32, height: 32 },
  );
  const files = [1, 2].map((frame) => ({ role: 'picture', name: `bee.000${frame}.exr`, frame }));
  const change: Change = {
    ...{ ...noMask(), id: 'c', words: '', on: true, done: false, plainEdges: true },
    who: [{ mode: 'with', layer: 'id', member: 'all' }],
    corrections: [{ id: 's', kind: 'grain', on: true, values: { strength: 100 } }],
  };
  const of = async (frame: number) => {
    const open = await openFrame(files, frame, () => Promise.resolve(bytes), {
      interpretation: { roles: { id: { role: 'number-pass', names: { 1: 'all' } } } },
    });
    const all = await open.all();
    return (await applyChanges(all, [change])).g;
  };
  const [first, again, second] = await Promise.all([of(1), of(1), of(2)]);
  expect(again).toEqual(first);
  expect(spread(stops(first!))).toBeGreaterThan(0.3);
  expect(Math.abs(alike(stops(first!), stops(second!)))).toBeLessThan(0.15);
});
