import { sample } from '../../test/fixtures/samples.ts';
import type { Change, StepUse } from '../changes/change.ts';
import { inverse, throughMatrix, type Matrix } from '../colour/matrix.ts';
import { toRec709 } from '../colour/primaries.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { openPicture } from '../version/open-picture.ts';
import { applyChanges } from './apply-changes.ts';

// Reading a global of the test's own world is slow.
const { abs, max } = Math;

/** The sample as if it were rendered in the primaries of ACEScg: what is corrected must look the same. */
const open = openPicture(sample('all.exr'));
const there = toRec709({
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
})!;
const moved = (planes: RgbPlanes, m: Matrix): RgbPlanes => {
  const out = { ...planes, r: planes.r.slice(), g: planes.g.slice(), b: planes.b.slice() };
  throughMatrix(out, out.r.length, m);
  return out;
};
const wide = { ...open, planes: { ...moved(open.planes, inverse(there)), toScreen: there } };
const { width, height } = open;
/** Nearer to the right. */
const depth = Float32Array.from({ length: width * height }, (_, p) => 10 - (10 * (p % 97)) / 97);

const step = (kind: string, values: StepUse['values']): StepUse => ({ id: 's', kind, on: true, values });
const listed: Change = {
  id: 'c',
  words: '',
  on: true,
  done: false,
  who: [{ mode: 'with', layer: 'CryptoObject', member: '*jar*', rule: true }],
  edge: [],
  fence: [],
  brush: [],
  plainEdges: true,
  corrections: [],
};
const changed = (picture: typeof open, plainEdges: boolean, kind: string, values: StepUse['values']) =>
  applyChanges(picture, [{ ...listed, plainEdges, corrections: [step(kind, values)] }], {
    passes: { depth: [depth] },
  });

const RANGE = { limitHue: 60, limitHueWidth: 120, limitHueSoft: 30, limitLightnessFrom: 10 };
test.each<[string, StepUse['values']]>([
  ['hue-saturation-lightness', { hue: 120, saturation: 20 }],
  ['hue-saturation-lightness', { hue: 120, ...RANGE }],
  ['hue-saturation-lightness', { hue: 90, limitDepth: 'depth', limitFar: 5 }],
  ['exposure', { stops: 1, ...RANGE }],
  ['white-balance', { kelvin: 4000 }],
  ['grey', { strength: 100 }],
  ['tone-curves', { all: [[0.5, 20]] }],
  ['colour-curves', { hueByHue: [[0.2, 40]] }],
  ['fill', { colour: [0.1, 0.6, 0.2] }],
  ['haze', { pass: 'depth', strength: 60, colour: [0.1, 0.6, 0.2] }],
])('%s %j looks the same whatever the primaries of the file', async (kind, values) => {
  // Taking mixed pixels apart is the same work for all of them.
  for (const plain of kind === 'haze' ? [true, false] : [true]) {
    const usual = await changed(open, plain, kind, values);
    const other = moved(await changed(wide, plain, kind, values), there);
    let [worst, most] = [0, 0];
    for (const k of ['r', 'g', 'b'] as const)
      for (let p = 0; p < usual.r.length; p++) {
        worst = max(worst, abs(other[k][p]! - usual[k][p]!) / max(0.05, abs(usual[k][p]!)));
        most = max(most, abs(usual[k][p]! - open.planes[k][p]!));
      }
    expect(most).toBeGreaterThan(0.02);
    // Clean edges find parts of mixed pixels channel by channel, and hold them within what is there.
    expect(worst).toBeLessThan(plain ? 2e-3 : 0.2);
  }
});

test('a limit by depth leaves what is farther as it is, softly', async () => {
  const out = await changed(open, true, 'exposure', {
    stops: 1,
    limitDepth: 'depth',
    limitNear: 3,
    limitFar: 6,
    limitDepthSoft: 0.5,
  });
  const all = await changed(open, true, 'exposure', { stops: 1 });
  let [between, beyond, within] = [0, 0, 0];
  for (let p = 0; p < depth.length; p++) {
    const whole = all.g[p]! - open.planes.g[p]!;
    if (whole < 1e-3) continue;
    const share = (out.g[p]! - open.planes.g[p]!) / whole;
    const d = depth[p]!;
    if (d <= 2.5 || d >= 6.5) beyond = Math.max(beyond, Math.abs(share));
    else if (d >= 3 && d <= 6) within = Math.max(within, Math.abs(share - 1));
    else between += share > 0 && share < 1 ? 1 : 0;
  }
  expect(beyond).toBe(0);
  expect(within).toBeLessThan(5e-5);
  expect(between).toBeGreaterThan(0);
});

test('without the pass that limits it a correction waits', async () => {
  const out = await changed(open, true, 'exposure', { stops: 1, limitDepth: 'elsewhere', limitFar: 5 });
  expect(out.g).toEqual(open.planes.g);
});

test('limited to some of the light, the rest of each pixel stays', async () => {
  const half = open.planes.r.map((v) => 0.25 * v);
  const passes = { depth: [depth], diffuse_direct: [half, open.planes.g, new Float32Array(half.length)] };
  const out = await applyChanges(
    open,
    [{ ...listed, corrections: [step('exposure', { stops: 1, onlyLight: 'diffuse_direct' })] }],
    { passes },
  );
  const all = await changed(open, true, 'exposure', { stops: 1 });
  const gain = (k: 'r' | 'g' | 'b') => {
    let [own, whole] = [0, 0];
    for (let p = 0; p < half.length; p++) {
      own += out[k][p]! - open.planes[k][p]!;
      whole += all[k][p]! - open.planes[k][p]!;
    }
    return own / whole;
  };
  expect(gain('r')).toBeCloseTo(0.25, 4);
  expect(gain('g')).toBeCloseTo(1, 4);
  expect(gain('b')).toBeCloseTo(0, 4);
});
