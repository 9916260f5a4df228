import fc from 'fast-check';
import { sample, worst } from '../../test/fixtures/samples.ts';
import type { Change, StepUse } from '../changes/change.ts';
import { defineCorrection, type Correction } from '../corrections/correction.ts';
import { limitSettings } from '../corrections/limit.ts';
import { correctionOf, CORRECTIONS } from '../corrections/registry.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { openPicture } from '../version/open-picture.ts';
import { ApplyError, applyChanges } from './apply-changes.ts';
import { ChangeStack } from './change-stack.ts';
import { TileComputer, type ComputeOptions } from './compute-tiles.ts';
import { tileKernel } from '../kernels/tile.ts';
import { missingPicks } from './missing-picks.ts';
import { meanUnder } from './swatches.ts';
import { runs } from '../../test/runs.ts';

const HSL = 'hue-saturation-lightness';
const open = openPicture(sample('all.exr'));
const change = (
  id: string,
  member: string,
  corrections: [string, Record<string, number>][],
  on = true,
): Change => ({
  id,
  words: id,
  on,
  done: false,
  edge: [],
  fence: [],
  brush: [],
  plainEdges: true,
  who: [{ mode: 'with', layer: 'CryptoObject', member }],
  corrections: corrections.map(([kind, values], i): StepUse => ({
    id: `${id}${i}`,
    kind,
    on: true,
    values,
  })),
});

const REACH = 3;
const number = (key: string) =>
  ({ kind: 'number', key, label: key, unit: '', min: -9, max: 9, step: 1, neutral: 0 }) as const;
/** Reads its neighbours: the mean of a square. */
const blur = defineCorrection<{ by: number }>({
  works: 'area',
  kind: 'test-blur',
  label: 'Blur',
  group: 'area',
  hint: '',
  numbers: '',
  fields: [number('by')],
  reach: () => REACH,
  apply({ area, margin, planes }, _values, out) {
    const [w, h] = [area.x1 - area.x0, area.y1 - area.y0];
    for (const k of ['r', 'g', 'b'] as const)
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          let sum = 0;
          for (let j = -REACH; j <= REACH; j++)
            for (let i = -REACH; i <= REACH; i++)
              sum += planes[k][(y + margin + j) * planes.width + x + margin + i]!;
          out[k][y * w + x] = sum / (2 * REACH + 1) ** 2;
        }
  },
});
/** Writes beyond its mask: light where coverage is within reach. */
const halo = defineCorrection<{ by: number }>({
  works: 'area',
  kind: 'test-halo',
  label: 'Halo',
  group: 'area',
  hint: '',
  numbers: '',
  fields: [number('by')],
  reach: () => 20,
  spread: () => 20,
  apply({ area, margin, planes, coverage }, { by }, out) {
    const [w, h] = [area.x1 - area.x0, area.y1 - area.y0];
    for (const k of ['r', 'g', 'b'] as const)
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const at = (y + margin) * planes.width + x + margin;
          out[k][y * w + x] = planes[k][at]! + by * coverage[at - 20]!;
        }
  },
});
const broken = defineCorrection<{ by: number }>({
  works: 'pixel',
  kind: 'test-broken',
  label: 'Broken',
  group: 'area',
  hint: '',
  numbers: '',
  fields: [number('by')],
  apply() {
    throw new Error('There is no light pass.');
  },
});
const find = (kind: string): Correction | undefined =>
  [blur, halo, broken].find((c) => c.kind === kind) ?? correctionOf(kind);

function compute(stack: ChangeStack, tiles: readonly number[], options?: ComputeOptions) {
  const computer = new TileComputer(stack.input(tiles), { find, ...options });
  tiles.forEach((_, piece) => computer.piece(piece));
  return computer.failures;
}
function fresh(list: readonly Change[], options?: ComputeOptions): RgbPlanes {
  const stack = new ChangeStack(open.planes, open.cast, { find });
  compute(stack, stack.update(list), options);
  return stack.result;
}
const difference = (a: RgbPlanes, b: RgbPlanes) =>
  Math.max(...(['r', 'g', 'b'] as const).map((k) => worst(a[k], b[k])));

const smoker = change('smoker', 'table/smoker', [['exposure', { stops: 1 }]]);
const bees = change('bees', 'bees/bee_00?', [
  [HSL, { hue: 90 }],
  ['exposure', { stops: -0.5 }],
]);
const refined = (c: Change, ...edge: [string, Record<string, number>][]): Change => ({
  ...c,
  edge: edge.map(([kind, values], i) => ({ id: `${i}`, kind, on: true, values })),
});
const soft = change('soft', 'table/*', [['test-blur', { by: 1 }]]);
const glow = change('glow', 'bees/*', [
  ['exposure', { stops: 0.2 }],
  ['test-halo', { by: 0.3 }],
]);

describe('a change list on the sample', () => {
  test('where coverage is 0 every pixel keeps its bits, elsewhere it is blended by coverage', () => {
    const planes = fresh([smoker]);
    const stack = new ChangeStack(open.planes, open.cast);
    stack.update([smoker]);
    const mask = stack.mask('smoker')!.flat();
    const wrong = mask.findIndex((c, p) => {
      const before = open.planes.r[p]!;
      if (c === 0) return !Object.is(planes.r[p], before);
      return Math.abs(planes.r[p]! - before * (1 + Math.min(1, c))) > 1e-4;
    });
    expect(wrong).toBe(-1);
    expect(mask.some((c) => c > 0)).toBe(true);
  });

  test('off, neutral or unknown corrections and empty picks change nothing at all', async () => {
    const idle = [
      change('a', 'table/smoker', [['exposure', { stops: 1 }]], false),
      change('b', 'table/smoker', [['exposure', { stops: 0 }]]),
      change('c', 'table/smoker', [['from-the-future', { x: 1 }]]),
      change('d', 'table/teapot', [['exposure', { stops: 3 }]]),
    ];
    expect(difference(await applyChanges(open, idle), open.planes)).toBe(0);
    expect(missingPicks(idle, open.cast).map((m) => m.pick.member)).toEqual(['table/teapot']);
  });

  test('only tiles that the mask touches are computed', () => {
    const stack = new ChangeStack(open.planes, open.cast);
    const tiles = stack.update([smoker]);
    expect(tiles.length).toBeGreaterThan(0);
    expect(tiles.length).toBeLessThan(stack.tileCount / 3);
    expect(stack.update([smoker])).toEqual([]);
    expect(stack.update([{ ...smoker, words: 'other words', done: true }])).toEqual([]);
    // One member more costs its own tiles.
    const more = { ...smoker, who: [...smoker.who, ...bees.who] };
    expect(stack.update([more]).length).toBeLessThan(
      new ChangeStack(open.planes, open.cast).update([more]).length,
    );
  });

  test('swatches are the mean colours under the mask', () => {
    const stack = new ChangeStack(open.planes, open.cast);
    compute(stack, stack.update([smoker]));
    const [before, after] = meanUnder(stack.mask('smoker')!, [stack.source, stack.result])!;
    expect(after![0] / before![0]).toBeGreaterThan(1.9);
    expect(after![0] / before![0]).toBeLessThanOrEqual(2.0001);
  });
});

describe('editing', () => {
  test('step by step ends where starting over ends, bit for bit, whatever the steps', () => {
    const pool = [
      smoker,
      bees,
      soft,
      glow,
      { ...smoker, corrections: [{ ...smoker.corrections[0]!, values: { stops: -2 } }] },
      { ...bees, who: [...bees.who, ...smoker.who] },
      { ...bees, on: false },
      { ...soft, who: bees.who },
      change('hive', 'yard/*', [[HSL, { saturation: -60 }]]),
      change('sky', 'nothing', [['exposure', { stops: 1 }]]),
      refined(smoker, ['grow', { by: 2.5 }], ['feather', { size: 9 }]),
      refined(smoker, ['feather', { size: 9 }], ['turn-round', { amount: 70 }]),
      refined(bees, ['turn-round', {}]),
      refined(soft, ['turn-round', {}], ['grow', { by: -3 }], ['firm', { firmness: 60 }]),
      change('real', 'bees/*', [
        ['blur', { size: 9, amount: 60 }],
        ['glow', { strength: 90, threshold: 0.2, limitLightnessFrom: 40 }],
        ['contrast', { contrast: 30 }],
      ]),
    ];
    const list = fc
      .shuffledSubarray(pool, { maxLength: 4 })
      .map((changes) => changes.filter((c, i) => changes.findIndex((d) => d.id === c.id) === i));
    fc.assert(
      fc.property(fc.array(fc.tuple(list, fc.nat(3)), { minLength: 2, maxLength: 5 }), (steps) => {
        const stack = new ChangeStack(open.planes, open.cast, { find });
        let tiles = new Set<number>();
        for (const [changes, edited] of steps) {
          for (const t of stack.update(changes, changes[edited]?.id)) tiles.add(t);
          // Sometimes the next edit comes before anything was computed.
          if (edited === 3) continue;
          compute(stack, [...tiles]);
          tiles = new Set();
        }
        compute(stack, [...tiles]);
        expect(difference(stack.result, fresh(steps.at(-1)![0]))).toBe(0);
      }),
      { numRuns: runs(8) },
    );
  });

  test('what lies below the edited change is not computed again', () => {
    const stack = new ChangeStack(open.planes, open.cast, { find });
    const top = change('top', 'table/*', [['exposure', { stops: 0.1 }]]);
    compute(stack, stack.update([bees, broken_(0), top], 'top'));
    const moved = { ...top, corrections: [{ ...top.corrections[0]!, values: { stops: 0.2 } }] };
    // The broken one lies below and would tell.
    expect(compute(stack, stack.update([bees, broken_(0), moved], 'top'))).toEqual([]);
  });
});
const broken_ = (i: number) => change(`broken${i}`, 'table/smoker', [['test-broken', { by: 1 }]]);

describe('corrections of an area', () => {
  test('read their neighbours across tiles, and the result of what lies below', () => {
    const below = fresh([smoker]);
    const after = fresh([smoker, soft]);
    const stack = new ChangeStack(open.planes, open.cast, { find });
    stack.update([soft]);
    const mask = stack.mask('soft')!.flat();
    const { width, height } = open;
    const at = (x: number, y: number) =>
      below.g[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!;
    let most = 0;
    // Every third pixel of the things on the table, and around the corner where four tiles meet.
    for (let y = 0; y < height; y += 3)
      for (let x = 0; x < width; x += 3) {
        const p = y * width + x;
        if (mask[p] === 0 && (x % 64 > 6 || y % 64 > 6)) continue;
        const c = Math.min(1, mask[p]!);
        let sum = 0;
        for (let j = -REACH; j <= REACH; j++) for (let i = -REACH; i <= REACH; i++) sum += at(x + i, y + j);
        const expected = c > 0 ? below.g[p]! * (1 - c) + (sum / 49) * c : below.g[p]!;
        most = Math.max(most, Math.abs(after.g[p]! - expected));
      }
    expect(most).toBeLessThan(1e-5);
  });

  test('may write beyond their mask, as far as they say', () => {
    const after = fresh([change('glow', 'bees/*', [['test-halo', { by: 0.5 }]])]);
    const stack = new ChangeStack(open.planes, open.cast, { find });
    stack.update([glow]);
    const mask = stack.mask('glow')!;
    const wrong = after.b.findIndex((v, p) => {
      const x = (p % open.width) - 20;
      const y = Math.floor(p / open.width);
      const expected = open.planes.b[p]! + 0.5 * (x < 0 ? 0 : mask.at(x, y));
      return Math.abs(v - expected) > 1e-6;
    });
    expect(wrong).toBe(-1);
  });
});

describe('a correction that throws', () => {
  test('is told with its change, and the rest goes on', () => {
    const stack = new ChangeStack(open.planes, open.cast, { find });
    const failures = compute(stack, stack.update([broken_(1), smoker]));
    expect(failures).toEqual([
      { changeId: 'broken1', kind: 'test-broken', message: 'There is no light pass.' },
    ]);
    expect(difference(stack.result, fresh([smoker]))).toBe(0);
  });
  test('stops an export', () => {
    expect(
      new ApplyError([{ changeId: 'a', kind: 'b', message: 'There is no light pass.' }]).message,
    ).toContain('There is no light pass.');
  });
});

describe('the tile kernel', () => {
  /** A quarter of a half's step, or 2e-5, whichever is larger. */
  const tolerance = (v: number) =>
    Math.max(2e-5, 2 ** (Math.floor(Math.log2(Math.max(Math.abs(v), 6e-5))) - 12));
  test('is within the tolerance of plain code on the sample, for any values', () => {
    const values = fc.record({
      hue: fc.integer({ min: -360, max: 360 }),
      saturation: fc.integer({ min: -100, max: 400 }),
      lightness: fc.integer({ min: -100, max: 400 }),
      stops: fc.double({ min: -4, max: 4, noNaN: true }),
      amount: fc.constantFrom(100, 37.5),
    });
    fc.assert(
      fc.property(values, ({ stops, amount, ...hsl }) => {
        const list = [
          change('all', 'table/*', [
            [HSL, { ...hsl, amount }],
            ['exposure', { stops, amount }],
          ]),
        ];
        const [fast, plain] = [fresh(list), fresh(list, { plain: true })];
        for (const k of ['r', 'g', 'b'] as const) {
          const wrong = plain[k].findIndex((v, p) => {
            // The last step scales what the first may have left.
            const allowed = tolerance(v) * Math.max(1, 2 ** stops);
            return Math.abs(fast[k][p]! - v) > allowed;
          });
          expect(wrong < 0 ? '' : `${k} ${fast[k][wrong]} ${plain[k][wrong]}`).toBe('');
        }
      }),
      { numRuns: runs(6) },
    );
  });

  /** Values of a correction's settings as an artist might choose them. */
  const usual = (kind: string) =>
    fc.record(
      Object.fromEntries(
        correctionOf(kind)!.fields.map((f) => {
          if (f.kind === 'number')
            return [f.key, fc.double({ min: f.softMin ?? f.min, max: f.softMax ?? f.max, noNaN: true })];
          if (f.kind === 'choice') return [f.key, fc.constantFrom(...f.options.map((o) => o.value))];
          const least = f.kind === 'rgb' ? Math.max(0, f.min) : 0;
          const channel = fc.integer({ min: Math.ceil(1000 * least), max: 2000 }).map((n) => n / 1000);
          return [f.key, fc.tuple(channel, channel, channel)];
        }),
      ),
    );
  const inKernel = CORRECTIONS.flatMap((c) => (c.works === 'pixel' && c.kernel ? [c.kind] : []));
  test.each(inKernel.filter((kind) => kind !== HSL && kind !== 'exposure'))(
    'so is %s, for values that an artist chooses',
    (kind) => {
      fc.assert(
        fc.property(usual(kind), fc.constantFrom(100, 37.5), (values, amount) => {
          const list = [change('all', 'table/*', [[kind, { ...values, amount } as never]])];
          const [fast, plain] = [fresh(list), fresh(list, { plain: true })];
          for (const k of ['r', 'g', 'b'] as const) {
            const wrong = plain[k].findIndex((v, p) => Math.abs(fast[k][p]! - v) > tolerance(v));
            expect(wrong < 0 ? '' : `${k} ${fast[k][wrong]} ${plain[k][wrong]}`).toBe('');
          }
        }),
        { numRuns: runs(1) },
      );
    },
  );
  test('limits steps as plain code does', () => {
    const [hue, share] = [fc.integer({ min: 0, max: 360 }), fc.integer({ min: 0, max: 100 })];
    const limits = fc.record(
      {
        limitHue: hue,
        limitHueWidth: hue,
        limitHueSoft: fc.integer({ min: 5, max: 90 }),
        limitSaturationFrom: share,
        limitSaturationTo: share,
        limitSaturationSoft: fc.integer({ min: 2, max: 50 }),
        limitLightnessFrom: share,
        limitLightnessTo: share,
        limitLightnessSoft: fc.integer({ min: 2, max: 50 }),
      },
      { requiredKeys: [] },
    );
    const rendered = fresh([]);
    /** Pixels that a limit has part of. */
    let some = 0;
    fc.assert(
      fc.property(limits, fc.constantFrom(100, 37.5), (limit, amount) => {
        // What a stop adds is the light itself, so that what is off is how far the share is off.
        const list = [change('all', 'table/*', [['exposure', { stops: 1, ...limit, amount } as never]])];
        const [fast, plain] = [fresh(list), fresh(list, { plain: true })];
        for (const k of ['r', 'g', 'b'] as const) {
          const wrong = plain[k].findIndex((v, p) => {
            const light = Math.abs(rendered[k][p]!);
            if (v > 1.1 * light && v < 1.3 * light) some++;
            return Math.abs(fast[k][p]! - v) > Math.max(2e-5, light / 1000);
          });
          expect(wrong < 0 ? '' : `${k} ${fast[k][wrong]} ${plain[k][wrong]}`).toBe('');
        }
      }),
      {
        numRuns: runs(5),
        // Some that have part of many pixels, whatever chance brings.
        examples: [
          [{ limitLightnessFrom: 50, limitLightnessSoft: 50 }, 100],
          [{ limitHue: 60, limitHueWidth: 40, limitHueSoft: 60, limitSaturationTo: 60 }, 37.5],
        ],
      },
    );
    expect(some).toBeGreaterThan(1000);
  });
  test('makes numbers of numbers, however large, and leaves what is none', () => {
    const odd = [0, -0, 1e-40, -1, 3e38, -3e38, Infinity, NaN];
    const kernel = tileKernel();
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(...inKernel).chain((kind) => usual(kind).map((v) => [kind, v] as const)),
          {
            minLength: 1,
            maxLength: 3,
          },
        ),
        fc.boolean(),
        (uses, limited) => {
          const steps = uses.flatMap(([kind, v]) => {
            const c = correctionOf(kind)!;
            const step = c.works === 'pixel' ? c.kernel?.(v as never, {}) : undefined;
            const limit = limited ? limitSettings({ limitHueWidth: 90, limitLightnessFrom: 1 }) : undefined;
            return step ? [{ kernel: step, amount: 1, limit }] : [];
          });
          kernel.cover.fill(1);
          const at = (i: number, k: number) => odd[Math.floor(i / 8 ** k) % 8]!;
          for (let i = 0; i < 512; i++)
            [kernel.r[i], kernel.g[i], kernel.b[i]] = [at(i, 0), at(i, 1), at(i, 2)];
          for (const k of ['r', 'g', 'b'] as const) kernel.rendered[k].set(kernel[k]);
          kernel.change(steps);
          const wrong: number[] = [];
          for (let i = 0; i < 512; i++) {
            const was = [0, 1, 2].map((k) => Math.fround(at(i, k)));
            const is = [kernel.r[i]!, kernel.g[i]!, kernel.b[i]!];
            if (
              was.every(Number.isFinite)
                ? !is.every(Number.isFinite)
                : is.some((v, k) => !Object.is(v, was[k]))
            )
              wrong.push(i);
          }
          expect(wrong).toEqual([]);
        },
      ),
      { numRuns: runs(60) },
    );
  });
});
