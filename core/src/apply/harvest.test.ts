import { sample } from '../../test/fixtures/samples.ts';
import type { Change, StepUse } from '../changes/change.ts';
import { alone } from '../crew/alone.ts';
import { nodeCrew } from '../../node/crew.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { openPicture } from '../version/open-picture.ts';
import { findPasses, passPlanes } from '../version/passes.ts';
import { applyChanges, passesNeeded } from './apply-changes.ts';
import { ChangeStack } from './change-stack.ts';

/** Corrections and edges of the registry in change lists on the sample, as they are used. */
const open = openPicture(sample('all.exr'));
const { width, height } = open;
type Uses = [kind: string, values: StepUse['values']][];
const steps = (uses: Uses): StepUse[] =>
  uses.map(([kind, values], i) => ({ id: `${i}`, kind, on: true, values }));
const change = (member: string, corrections: Uses, edge: Uses = [], id = member): Change => ({
  id,
  words: '',
  on: true,
  done: false,
  who: [{ mode: 'with', layer: 'CryptoObject', member }],
  edge: steps(edge),
  fence: [],
  brush: [],
  plainEdges: true,
  corrections: steps(corrections),
});
const maskOf = (c: Change): Float32Array => {
  const stack = new ChangeStack(open.planes, open.cast);
  stack.update([c]);
  return stack.mask(c.id)!.flat();
};
const same = (a: RgbPlanes, b: RgbPlanes, p: number) =>
  Object.is(a.r[p], b.r[p]) && Object.is(a.g[p], b.g[p]) && Object.is(a.b[p], b.b[p]);

test('a blur keeps every pixel outside its mask, and changes many inside', async () => {
  const soft = change('table/*', [['blur', { size: 9 }]]);
  const mask = maskOf(soft);
  const after = await applyChanges(open, [soft]);
  const changed = [0, 0];
  mask.forEach((c, p) => {
    if (!same(after, open.planes, p)) changed[c > 0 ? 1 : 0]!++;
  });
  expect(changed[0]).toBe(0);
  expect(changed[1]).toBeGreaterThan(5000);
});

test('a glow writes no farther than it reaches, and a pixel correction beside it stays inside the mask', async () => {
  const uses: Uses = [
    ['exposure', { stops: 2 }],
    ['glow', { strength: 100, threshold: 0.2, size: 8 }],
    ['exposure', { stops: 0.5 }],
  ];
  const glow = change('bees/*', uses);
  const mask = maskOf(glow);
  const after = await applyChanges(open, [glow]);
  const only = await applyChanges(open, [change('bees/*', uses.slice(1, 2))]);
  let [beyond, far, dark] = [0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      if (mask[p]! > 0 || same(after, open.planes, p)) continue;
      beyond++;
      let near = false;
      for (let j = -13; j <= 13 && !near; j++)
        for (let i = -13; i <= 13 && !near; i++) near = (mask[(y + j) * width + x + i] ?? 0) > 0;
      if (!near) far++;
      // Light is added there, more than without the exposure before, and nothing else is done.
      if (after.r[p]! < only.r[p]! - 1e-6) dark++;
    }
  expect([far, dark]).toEqual([0, 0]);
  expect(beyond).toBeGreaterThan(200);
});

test('tiles give what one window over the whole picture gives', async () => {
  // One tile is as large as the picture can be cut: a window of a margin as large as the picture has no seams.
  const soft = change('table/*', [
    ['blur', { size: 14 }],
    ['sharpen', { strength: 80, size: 3, beyond: 1 }],
  ]);
  const mask = maskOf(soft);
  const { correctionOf } = await import('../corrections/registry.ts');
  let planes = open.planes;
  for (const { kind, values } of soft.corrections) {
    const c = correctionOf(kind)!;
    if (c.works !== 'area') throw new Error(kind);
    const margin = Math.ceil(c.reach(values as never, open));
    const [w, h] = [width + 2 * margin, height + 2 * margin];
    const spread = (plane: Float32Array) =>
      Float32Array.from({ length: w * h }, (_, i) => {
        const x = Math.min(width - 1, Math.max(0, (i % w) - margin));
        const y = Math.min(height - 1, Math.max(0, Math.floor(i / w) - margin));
        return plane[y * width + x]!;
      });
    // Coverage ends with the picture.
    const coverage = Float32Array.from({ length: w * h }, (_, i) => {
      const [x, y] = [(i % w) - margin, Math.floor(i / w) - margin];
      return x < 0 || y < 0 || x >= width || y >= height ? 0 : mask[y * width + x]!;
    });
    const empty = () => new Float32Array(width * height);
    const out = { width, height, r: empty(), g: empty(), b: empty() };
    c.apply(
      {
        area: { x0: 0, y0: 0, x1: width, y1: height },
        margin,
        planes: { width: w, height: h, r: spread(planes.r), g: spread(planes.g), b: spread(planes.b) },
        coverage,
        frame: planes,
        passes: {},
      },
      values as never,
      out,
    );
    planes = out;
  }
  const after = await applyChanges(open, [soft]);
  let worst = 0;
  for (let p = 0; p < mask.length; p++) {
    const c = Math.min(1, mask[p]!);
    const wanted = c === 0 ? open.planes.g[p]! : open.planes.g[p]! * (1 - c) + planes.g[p]! * c;
    worst = Math.max(worst, Math.abs(after.g[p]! - wanted));
  }
  expect(worst).toBeLessThan(2e-5);
});

test('edge steps work one after the other, in the order that they have', () => {
  const mask = (edge: Uses) => maskOf(change('table/smoker', [['exposure', { stops: 1 }]], edge));
  const area = (m: Float32Array) => m.reduce((sum, c) => sum + c, 0);
  const own = mask([]);
  expect(area(mask([['grow', { by: 1.5 }]]))).toBeGreaterThan(area(own) + 100);
  expect(area(mask([['turn-round', {}]]))).toBeCloseTo(width * height - area(own), -1);
  expect(area(mask([['feather', { size: 6 }]])) / area(own)).toBeCloseTo(1, 2);
  const [a, b] = [
    mask([
      ['turn-round', {}],
      ['grow', { by: 4 }],
    ]),
    mask([
      ['grow', { by: 4 }],
      ['turn-round', {}],
    ]),
  ];
  expect(area(a)).toBeGreaterThan(area(b) + 500);
  // Half of a turn is half of everything.
  expect(new Set(mask([['turn-round', { amount: 50 }]]))).toEqual(new Set([0.5]));
});

test('another pass is read by its name; without it the rest of the change is applied', async () => {
  const list = [
    change('table/*', [
      ['exposure', { stops: 1 }],
      ['multiply-by-pass', { pass: 'occlusion' }],
    ]),
  ];
  expect(passesNeeded(list)).toEqual(['occlusion']);
  expect(passesNeeded([{ ...list[0]!, on: false }])).toEqual([]);
  const data = Float32Array.from({ length: width * height }, (_, p) => (p % 2 ? 0.5 : 1));
  const [without, withPass] = [
    await applyChanges(open, list),
    await applyChanges(open, list, { passes: { occlusion: [data] } }),
  ];
  const mask = maskOf(list[0]!);
  const lit = mask.findIndex((c, p) => c === 1 && p % 2 === 1 && open.planes.r[p]! > 0.05);
  expect(without.r[lit]! / open.planes.r[lit]!).toBeCloseTo(2, 3);
  expect(withPass.r[lit]! / open.planes.r[lit]!).toBeCloseTo(1, 3);
});

test('layers of one channel or three are passes; the picture and IDs are none', () => {
  const names = [
    'R',
    'G',
    'B',
    'A',
    'occlusion.Y',
    'normal.X',
    'normal.Y',
    'normal.Z',
    'motion.X',
    'motion.Y',
  ];
  const header = {
    channels: names.map((name) => ({ name, type: 'half' as const, xSampling: 1, ySampling: 1 })),
  } as unknown as Parameters<typeof findPasses>[0];
  const found = findPasses(header, { layer: '', r: 'R', g: 'G', b: 'B', a: 'A' }, []);
  expect(found).toEqual([
    { name: 'occlusion', channels: ['occlusion.Y'] },
    { name: 'normal', channels: ['normal.X', 'normal.Y', 'normal.Z'] },
  ]);
  expect(findPasses(open.image.header, open.beauty, open.layers).map((p) => p.name)).toEqual(['depth']);
  const plane = Uint16Array.of(0x3800);
  const channel = { name: 'occlusion.Y', type: 'half' as const, xSampling: 1, ySampling: 1, data: plane };
  expect(passPlanes(found, [channel as never])).toEqual({ occlusion: [Float32Array.of(0.5)] });
});

test('threads give what one gives, bit for bit', async () => {
  const list = [
    change(
      'table/*',
      [
        ['blur', { size: 7 }],
        ['contrast', { contrast: 30, limitLightnessFrom: 30 }],
      ],
      [['feather', { size: 5 }]],
    ),
    change('bees/*', [
      ['glow', { strength: 60 }],
      ['white-balance', { kelvin: 4000, amount: 40 }],
    ]),
  ];
  const { crew, end } = nodeCrew(3);
  const [many, one] = [
    await applyChanges(open, list, { crew }),
    await applyChanges(open, list, { crew: alone }),
  ];
  await end();
  for (const k of ['r', 'g', 'b'] as const)
    expect(Buffer.compare(Buffer.from(many[k].buffer), Buffer.from(one[k].buffer))).toBe(0);
});
