import { converter } from 'culori';
import { workingValues } from '../../bench/values.ts';
import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { noMask, type Change } from '../changes/change.ts';
import { CORRECTIONS } from '../corrections/registry.ts';
import type { FieldValues } from '../fields/field.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { applyChanges } from './apply-changes.ts';

/**
 * Corrections of an area that are limited to a range of colours: what a pixel gets is a share of what it would get
 * without, by its own colour as rendered. The share is computed here from another library's Oklab.
 */
const [WIDTH, HEIGHT] = [72, 40];
const patch = (p: number) => Math.floor((p % WIDTH) / 6) + 12 * Math.floor(Math.floor(p / WIDTH) / 5);
const colourAt = (p: number, k: number) =>
  0.05 + 0.9 * Math.abs(Math.sin(patch(p) * (1.3 + 0.7 * k) + 0.9 * k)) * (0.75 + 0.25 * Math.sin(p / 3));
const oklab = converter('oklab');

const smooth = (t: number) => {
  const x = Math.min(1, Math.max(0, t));
  return x * x * (3 - 2 * x);
};
/** 1 within a range, and a smooth fall over `soft` outside of it. */
const within = (v: number, from: number, to: number, soft: number) =>
  smooth(1 + (v - from) / soft) * smooth(1 + (to - v) / soft);

const LIMITS: [string, FieldValues, (L: number, C: number, h: number) => number][] = [
  [
    'hue',
    { limitHue: 40, limitHueWidth: 80, limitHueSoft: 30 },
    (L, C, h) => {
      const away = Math.abs(((h - 40 + 540) % 360) - 180);
      // Greys have no hue.
      return smooth(1 + (40 - away) / 30) * Math.min(1, C / L / 0.03);
    },
  ],
  [
    'saturation',
    { limitSaturationFrom: 8, limitSaturationTo: 25, limitSaturationSoft: 6 },
    (L, C) => within(C / L, 0.08, 0.25, 0.06),
  ],
  [
    'lightness',
    { limitLightnessFrom: 60, limitLightnessTo: 80, limitLightnessSoft: 15 },
    (L) => within(L, 0.6, 0.8, 0.15),
  ],
];

async function view(mask: (p: number) => number): Promise<OpenPicture> {
  const size = { width: WIDTH, height: HEIGHT };
  const channel = (k: number) => (p: number) => colourAt(p, k);
  const open = await openFiles(
    {
      'view.exr': fileOf(
        { B: channel(2), G: channel(1), R: channel(0), 'depth.Z': (p) => 1 + patch(p) / 20 },
        size,
      ),
      'view_id_04.exr': fileOf({ Y: mask }, size),
    },
    { roles: { id_04: { role: 'object-buffer', number: 4, name: 'all' } } },
  );
  return open.all();
}
const apply = (open: OpenPicture, kind: string, values: FieldValues) => {
  const change: Change = {
    ...{ ...noMask(), id: 'c', words: '', on: true, done: false, plainEdges: true },
    who: [{ mode: 'with', layer: open.layers[0]!.name, member: 'all' }],
    corrections: [{ id: 'k', kind, on: true, values }],
  };
  const depth = open.image.channels.find((c) => c.name === 'depth.Z')!.data as Float32Array;
  return applyChanges(open, [change], { passes: { depth: [depth] } });
};
let whole: OpenPicture;
/** With an edge in the picture: some corrections are about that. */
const mask = (p: number) => (p % WIDTH < 50 ? 1 : 0);
beforeAll(async () => (whole = await view(mask)));

const MORE: Record<string, FieldValues> = {
  defocus: { pass: 'depth', focus: 1.5, size: 6 },
  glow: { threshold: 0.2, size: 5 },
};
const AREA = CORRECTIONS.flatMap((c) => (c.works === 'area' ? [c] : []));
describe.each(AREA.map((c) => [c.kind, c] as const))('%s', (kind, correction) => {
  const own = { ...workingValues(correction.fields), ...MORE[kind] };
  test.each(LIMITS)('is limited by %s', async (_, limit, shareOf) => {
    const { r, g, b } = whole.planes;
    const shares = r.map((v, i) => {
      const { l, a, b: blue } = oklab({ mode: 'lrgb', r: v, g: g[i]!, b: b[i]! });
      return shareOf(l, Math.hypot(a, blue), (Math.atan2(blue, a) * 180) / Math.PI);
    });
    expect(shares.some((s) => s > 0.9) && shares.some((s) => s < 0.1)).toBe(true);
    const limited = await apply(whole, kind, { ...own, ...limit });
    const beyond = correction.spread?.(own, { width: WIDTH, height: HEIGHT }) ?? 0;
    // What writes beyond its mask begins at less of it; anything else is mixed with what was there.
    const free = await apply(beyond > 0 ? await view((p) => mask(p) * shares[p]!) : whole, kind, own);
    let [off, changed] = [0, 0];
    for (const k of ['r', 'g', 'b'] as const)
      limited[k].forEach((v, i) => {
        const before = whole.planes[k][i]!;
        const wanted = beyond > 0 ? free[k][i]! : before + shares[i]! * (free[k][i]! - before);
        off = Math.max(off, Math.abs(v - wanted));
        changed = Math.max(changed, Math.abs(v - before));
      });
    expect(changed).toBeGreaterThan(0.003);
    expect(off).toBeLessThan(2e-4);
  });
});
