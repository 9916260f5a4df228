import fc from 'fast-check';
import { runs } from '../../../test/runs.ts';
import { worst } from '../../../test/fixtures/samples.ts';
import { castOf } from '../../cast/cast.ts';
import { buildIdIndex } from '../../idindex/id-index.ts';
import { TILE } from '../../planes/tiles.ts';
import { maskOf, MaskPipeline } from '../pipeline.ts';
import { brush, strokeMeets, type Stroke } from './stroke.ts';

const frame = { width: 200, height: 100 };
const all = { x0: 0, y0: 0, ...{ x1: frame.width, y1: frame.height } };
const painted = (stroke: Stroke, from = 0) => {
  const out = new Float32Array(frame.width * frame.height).fill(from);
  brush(stroke, frame, all, out);
  return out;
};
const sum = (p: Float32Array) => p.reduce((n, c) => n + c, 0);
const stroke = (more: Partial<Stroke> = {}): Stroke => ({
  way: 'add',
  size: 10,
  soft: 0,
  points: [
    [25, 50],
    [75, 50],
  ],
  ...more,
});

describe('a stroke', () => {
  test('is as wide as it says, with round ends', () => {
    // 20 pixels wide and 100 long, and a disc for both ends.
    expect(sum(painted(stroke()))).toBeCloseTo(100 * 20 + Math.PI * 100, -1);
  });
  test('that is soft falls off to its size, smoothly', () => {
    const soft = painted(stroke({ soft: 1 }));
    const column = Array.from({ length: 11 }, (_, d) => soft[(50 + d) * frame.width + 100]!);
    expect(column[0]).toBeGreaterThan(0.98);
    expect(column[10]).toBe(0);
    for (let d = 1; d <= 10; d++) expect(column[d]!).toBeLessThan(column[d - 1]!);
  });
  test('takes away what one like it has added, whatever was there', () => {
    const out = painted(stroke());
    brush(stroke({ way: 'take' }), frame, all, out);
    // At its rim it takes away its own share of its own share.
    expect(Math.max(...out)).toBeLessThanOrEqual(0.25);
  });
  test('drawn over again adds nothing in its middle, and one place is a dot', () => {
    const out = painted(stroke());
    const once = sum(out);
    brush(stroke(), frame, all, out);
    expect(sum(out) - once).toBeLessThan(0.02 * once);
    expect(sum(painted(stroke({ points: [[50, 50]] })))).toBeCloseTo(Math.PI * 100, -1);
  });
  test('covers the same share of a picture of twice the size', () => {
    const twice = { width: 400, height: 200 };
    const out = new Float32Array(twice.width * twice.height);
    brush(stroke({ soft: 0.5 }), twice, { x0: 0, y0: 0, x1: 400, y1: 200 }, out);
    expect(sum(out) / 4).toBeCloseTo(sum(painted(stroke({ soft: 0.5 }))), -1);
  });
});

const strokes = fc.array(
  fc.record({
    way: fc.constantFrom<Stroke['way']>('add', 'take'),
    size: fc.double({ min: 0.1, max: 20, noNaN: true }),
    soft: fc.double({ min: 0, max: 1, noNaN: true }),
    points: fc.array(
      fc.tuple(
        fc.double({ min: -20, max: 120, noNaN: true }),
        fc.double({ min: -20, max: 120, noNaN: true }),
      ),
      { minLength: 1, maxLength: 4 },
    ),
  }),
  { maxLength: 4 },
);

describe('strokes on a mask', () => {
  const planes = {
    ...frame,
    ids: [new Uint32Array(20000).map((_, p) => (p % 200 < 70 ? 1 : 2))],
    coverage: [new Float32Array(20000).fill(1)],
  };
  const manifest = { nameOf: new Map([[1, 'cloth']]), clashes: [], repaired: 0 };
  const cast = [castOf({ name: 'objects', manifest }, buildIdIndex(planes))];
  const who = [{ mode: 'with' as const, layer: 'objects', member: 'cloth' }];

  test('tile by tile they are what they are over the whole, also while they come and go', () => {
    fc.assert(
      fc.property(fc.array(strokes, { minLength: 1, maxLength: 4 }), (states) => {
        const pipeline = new MaskPipeline(cast, frame);
        let last = new Float32Array(20000);
        for (const list of states) {
          const changed = pipeline.update({ who, edge: [], fence: [], brush: list });
          const now = pipeline.mask.flat();
          const wanted = Float32Array.from(planes.ids[0]!, (id) => (id === 1 ? 1 : 0));
          for (const s of list) brush(s, frame, all, wanted);
          expect(worst(now, wanted)).toBe(0);
          const missed = now.findIndex(
            (c, p) =>
              c !== last[p] && !changed[Math.floor(p / 200 / TILE) * 4 + Math.floor((p % 200) / TILE)],
          );
          expect(missed).toBe(-1);
          last = now as Float32Array<ArrayBuffer>;
        }
      }),
      { numRuns: runs(40) },
    );
  });
  test('reach no further than they say', () => {
    fc.assert(
      fc.property(strokes, (list) => {
        for (const s of list) {
          const out = painted({ ...s, way: 'add' });
          if (out.some((c) => c > 0)) expect(strokeMeets(s, frame, all)).toBe(true);
        }
      }),
      { numRuns: runs(60) },
    );
  });
  test('come after the fence: they add where it lets nothing through', () => {
    const fence = [{ kind: 'rectangle', values: { x: 10, y: 50, width: 10, height: 20 } }];
    const dot = stroke({ points: [[80, 50]], size: 4 });
    const mask = maskOf({ ...frame, cast }, { who, fence, brush: [dot] });
    expect(mask.at(160, 50)).toBe(1);
    expect(mask.at(100, 50)).toBe(0);
    expect(mask.at(20, 50)).toBe(1);
  });
});
