import { sample } from '../../test/fixtures/samples.ts';
import type { Change, StepUse } from '../changes/change.ts';
import { differenceCiede2000 } from 'culori';
import { blackBody, cieDaylight } from '../../test/fixtures/lights.ts';
import { inverse, through, throughMatrix, type Matrix } from '../colour/matrix.ts';
import { lightOfGrey } from '../corrections/white-balance.ts';
import { toRec709 } from '../colour/primaries.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { openPicture } from '../version/open-picture.ts';
import { applyChanges } from './apply-changes.ts';

// Reading a global of the test's own world is slow.
const { abs, max } = Math;

/** The sample as if it were rendered in the primaries of ACEScg: what is corrected must look the same. */
const open = openPicture(sample('all.exr'));
const ACES = {
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
} as const;
const there = toRec709(ACES)!;
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

/** A picture in ACEScg of one colour under the masks of the sample. */
const grey = ([r, g, b]: readonly [number, number, number]): typeof open => {
  const plane = (v: number) => new Float32Array(width * height).fill(v / 2);
  return { ...open, planes: { ...wide.planes, r: plane(r), g: plane(g), b: plane(b), white: ACES.white } };
};
const named = ([r, g, b]: readonly number[]) => ({ r: r!, g: g!, b: b! });

/** CIE XYZ of the light of a chromaticity as the numbers of ACEScg, by the matrix that its primaries and white define. */
function inAces(x: number, y: number): [number, number, number] {
  const xyz = (p: readonly [number, number]) => [p[0] / p[1], 1, (1 - p[0] - p[1]) / p[1]];
  const columns = [ACES.red, ACES.green, ACES.blue].map(xyz);
  const m = [0, 1, 2].map((row) => columns.map((c) => c[row]!)) as unknown as Matrix;
  // As much of each primary as makes the white.
  const amounts = through(inverse(m), xyz(ACES.white) as [number, number, number]);
  const light = through(inverse(m), xyz([x, y]) as [number, number, number]);
  return light.map((v, k) => v / amounts[k]!) as [number, number, number];
}
test.each([
  ['a black body of 2500 K', blackBody(2500), 2500],
  ['a black body of 3200 K', blackBody(3200), 3200],
  ['daylight of 5500 K', cieDaylight(5500), 5500],
  ['daylight of 9000 K', cieDaylight(9000), 9000],
] as const)('in ACEScg %s becomes its white, R = G = B', async (_, [x, y], kelvin) => {
  const seen = inAces(x, y);
  const { r, g, b } = await changed(grey(seen), true, 'white-balance', { kelvin });
  // A pixel that the mask covers whole: there is none that changed more.
  const change = b.map((v) => abs(v - seen[2] / 2));
  const at = change.reduce((best, v, i) => (v > change[best]! ? i : best), 0);
  const found = [r[at]!, g[at]!, b[at]!];
  const apart = differenceCiede2000()(
    { mode: 'lrgb', ...named(through(there, found as [number, number, number])) },
    { mode: 'lrgb', ...named(through(there, [found[1]!, found[1]!, found[1]!])) },
  );
  expect(apart).toBeLessThan(0.3);
  // A click on that grey names the light.
  const light = lightOfGrey(through(there, seen), ACES.white)!;
  expect(Math.abs(1e6 / light.kelvin - 1e6 / kelvin)).toBeLessThan(1);
});
