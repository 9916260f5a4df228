import { renderedPair } from '../../../test/fixtures/pairs.ts';
import { PAIRS } from '../../../test/pairs/pairs.ts';
import { deltaE, rgbToLab } from '../../colour/lab.ts';
import { partColours } from '../../apply/part-colours.ts';
import { ChangeStack } from '../../apply/change-stack.ts';
import { noMask } from '../../changes/change.ts';
import { maskOf } from '../../masks/pipeline.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import type { PartColours, PixelCorrection } from '../correction.ts';
import { meanOf } from './figures.ts';
import { recolour } from './recolour.ts';

const KEYS = ['r', 'g', 'b'] as const;
type Rgb = [number, number, number];
const correction = recolour as PixelCorrection;
const meanColour = (p: PartColours): Rgb => [
  meanOf(p.r, p.weight),
  meanOf(p.g, p.weight),
  meanOf(p.b, p.weight),
];
const apart = (a: Rgb, b: Rgb) => deltaE(rgbToLab(...a), rgbToLab(...b));

function recoloured(part: PartColours, values: Record<string, never | number | string | Rgb>): PartColours {
  const all = { highlights: 100, direct: '', indirect: '', swatch: [0, 0, 0] as Rgb, ...values };
  const run = { ...part, r: part.r.slice(), g: part.g.slice(), b: part.b.slice() };
  correction.apply(run, all, correction.measure!(part, all));
  return run;
}
/** Differences pixel by pixel, of what a screen can show; of those that are not doubted, if that is given. */
function perPixel(
  found: PartColours,
  wanted: RgbPlanes,
  doubted?: Uint8Array,
): { mean: number; p95: number } {
  const clip = (v: number) => Math.min(1, Math.max(0, v));
  const all = Array.from(found.at, (p, i) =>
    apart(KEYS.map((k) => clip(found[k][i]!)) as Rgb, KEYS.map((k) => clip(wanted[k][p]!)) as Rgb),
  )
    .filter((_, i) => !doubted?.[i])
    .sort((a, b) => a - b);
  return { mean: all.reduce((s, v) => s + v, 0) / all.length, p95: all[Math.floor(all.length * 0.95)]! };
}

/**
 * Mean and 95th percentile of ΔE2000 against the picture rendered in the new colour that must not be exceeded, by the
 * picture alone and by light passes. Of the bee in flight no pixel shows its fur alone. Metal is told by its passes only.
 */
const MOST: Record<string, Record<'picture' | 'passes', [mean: number, p95: number]>> = {
  lids: { picture: [2.9, 6.2], passes: [0.7, 2.2] },
  lavender: { picture: [1.8, 3.2], passes: [0.8, 1.6] },
  brass: { picture: [3.5, 8], passes: [1, 3.9] },
  cloth: { picture: [0.3, 0.7], passes: [0.25, 0.5] },
  label: { picture: [0.6, 1.1], passes: [0.25, 0.5] },
  bee: { picture: [Infinity, Infinity], passes: [Infinity, Infinity] },
};

describe.each(Object.entries(PAIRS))('%s', (name, { material }) => {
  const { before, after, diffuse, cast } = renderedPair(name);
  const who = [{ mode: 'with' as const, layer: 'Materials', member: material }];
  const mask = maskOf({ ...before, cast }, { who });
  const passes = { diffuse: [diffuse.r, diffuse.g, diffuse.b] };
  const part = partColours(before, mask, passes);
  const swatch = meanColour(partColours(after, mask, {}));

  test.each([
    ['picture', {}],
    ['passes', { direct: 'diffuse' }],
  ] as const)(
    'by its %s the mean lands on the swatch, and pixels near what is rendered in that colour',
    (way, by) => {
      const found = recoloured(part, { swatch, ...by });
      const { mean, p95 } = perPixel(found, after);
      expect(apart(meanColour(found), swatch)).toBeLessThan(0.5);
      expect(mean).toBeLessThan(MOST[name]![way][0]);
      expect(p95).toBeLessThan(MOST[name]![way][1]);
      expect([...found.r, ...found.g, ...found.b].every(Number.isFinite)).toBe(true);
    },
  );
  test('by its passes the pixels that it does not call guessed are within 3 of the truth', () => {
    const values = { highlights: 100, direct: 'diffuse', indirect: '', swatch };
    const doubted = correction.doubts!(part, values, correction.measure!(part, values)!);
    const sure = doubted.filter((d) => d === 0).length / part.count;
    // Only metal is guessed, and of the bee in flight everything, because no pixel shows it alone.
    if (name === 'bee') return expect(sure).toBe(0);
    expect(sure).toBeGreaterThan(name === 'brass' ? 0.7 : 0.999);
    expect(perPixel(recoloured(part, values), after, doubted).p95).toBeLessThan(3);
  });
  test('without its highlights kept everything is multiplied alike', () => {
    const found = recoloured(part, { swatch, highlights: 0 });
    const by = [0, 1, 2].map((i) => swatch[i]! / meanColour(part)[i]!);
    KEYS.forEach((k, i) => {
      const off = part[k].map((v, n) => Math.abs(found[k][n]! - v * by[i]!));
      expect(Math.max(...off)).toBeLessThan(1e-4);
    });
  });
});

test('without a swatch, or without anything measured, nothing changes', () => {
  const values = { swatch: [0.1, 0.4, 0.2] as Rgb, highlights: 100, direct: '', indirect: '' };
  expect(correction.idle!({ ...values, swatch: [0, 0, 0] })).toBe(true);
  const plane = () => Float32Array.of(0.3, -0.1, 1e30);
  const run = { count: 3, r: plane(), g: plane(), b: plane(), at: Uint32Array.of(0, 1, 2), passes: {} };
  correction.apply({ ...run, rendered: { ...run, width: 3, height: 1 } }, values);
  expect([...run.r]).toEqual([...plane()]);
});

test('what is guessed is told of the whole picture, as long as the correction is on', () => {
  const { before, diffuse, cast } = renderedPair('brass');
  const stack = new ChangeStack(before, cast, { passes: { diffuse: [diffuse.r, diffuse.g, diffuse.b] } });
  const values = { swatch: [0.8, 0.8, 0.5] as Rgb, direct: 'diffuse' };
  const told = (on: boolean) => {
    const who = [{ mode: 'with' as const, layer: 'Materials', member: 'brass' }];
    const change = { id: 'brass', words: '', on: true, done: false, plainEdges: true };
    const corrections = [{ id: 'c', on, kind: 'recolour', values }];
    stack.update([{ ...noMask(), ...change, who, corrections }]);
    return stack.guessed().filter((g) => g === 1).length;
  };
  expect(told(true)).toBeGreaterThan(1000);
  expect(told(true)).toBeLessThan(2500);
  expect(told(false)).toBe(0);
});
