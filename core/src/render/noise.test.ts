import { scaled } from '../../test/runs.ts';
import { leftOf, material, sceneOf } from '../../test/fixtures/scenes.ts';
import { Film } from './film.ts';
import { judge } from './noise.ts';
import { DEFAULT_SETTINGS, type RenderSettings } from './settings.ts';
import { TileRenderer } from './tile.ts';
import { prepare } from './waves/prepared.ts';

const SIDE = 24;
const strips = Array.from({ length: 6 }, (_, i) => leftOf(-0.7 + i / 3, -1 - i * 0.01)).flat();
const scene = sceneOf(
  strips,
  [material({ name: 'a' }), material({ name: 'b', colour: [0.9, 0.1, 0.1] })],
  (i) => i % 2,
);
const settings = (more: Partial<RenderSettings> = {}): RenderSettings => ({
  ...DEFAULT_SETTINGS,
  width: SIDE,
  height: SIDE,
  samples: 64,
  ...more,
});

/** A film in rounds that double, judged after each, and the last verdict. */
function judged(own: RenderSettings, rounds = [4, 8, 16, 32, 64]) {
  const renderer = new TileRenderer(prepare(scene), own);
  let tile = renderer.begin({ x0: 0, y0: 0, x1: SIDE, y1: SIDE });
  let verdict = judge([tile], own);
  for (const upTo of rounds) {
    tile = renderer.extend(tile, upTo);
    verdict = judge([tile], own);
    if (verdict.clean) break;
  }
  return { film: new Film(scene, own, [tile]), verdict };
}
const luminance = (film: Film) => {
  const [r, g, b] = film.light();
  return r!.map((v, p) => 0.2126 * v + 0.7152 * g![p]! + 0.0722 * b![p]!);
};

test('the noise that is told of halves is what seeds differ by', () => {
  const seeds = Array.from({ length: scaled(8) }, (_, seed) => judged(settings({ seed })));
  const pictures = seeds.map((s) => luminance(s.film));
  // The true relative error of each block of 8 x 8 pixels, from all seeds.
  const blocks: number[] = [];
  for (let by = 0; by < SIDE; by += 8)
    for (let bx = 0; bx < SIDE; bx += 8) {
      let sum = 0;
      for (let y = by; y < by + 8; y++)
        for (let x = bx; x < bx + 8; x++) {
          const values = pictures.map((p) => p[y * SIDE + x]!);
          const mean = values.reduce((a, b) => a + b) / values.length;
          const variance = values.reduce((n, v) => n + (v - mean) ** 2, 0) / (values.length - 1);
          sum += variance / Math.max(0.03, mean) ** 2;
        }
      blocks.push(Math.sqrt(sum / 64));
    }
  blocks.sort((a, b) => a - b);
  const truth = blocks[Math.ceil(0.95 * blocks.length) - 1]!;
  const told = seeds.reduce((n, s) => n + s.verdict.noise!, 0) / seeds.length;
  expect(told / truth).toBeGreaterThan(0.6);
  // The largest of nine that are estimated each is a little larger than the largest.
  expect(told / truth).toBeLessThan(1.7);
});

test('nothing is told before samples have doubled, and nothing is clean on a few', () => {
  expect(judged(settings(), [1]).verdict).toEqual({ noise: undefined, clean: false });
  expect(judged(settings({ noise: 1 }), [4, 8]).verdict.clean).toBe(false);
  expect(judged(settings({ noise: 1 }), [4, 8]).verdict.noise).toBeGreaterThan(0);
  expect(judged(settings({ noise: 1 })).verdict.clean).toBe(true);
});

test('noise falls with the samples, in between what doubles, too', () => {
  const after = (rounds: number[]) => judged(settings({ samples: 256 }), rounds).verdict.noise!;
  const [at64, at96, at256] = [
    [4, 8, 16, 32, 64],
    [4, 8, 16, 32, 64, 96],
    [4, 8, 16, 32, 64, 128, 256],
  ].map(after);
  expect(at96! / at64!).toBeCloseTo(Math.sqrt(64 / 96), 5);
  expect(at256).toBeLessThan(at64!);
});

test('of IDs alone only pixels count that several things share', () => {
  const { verdict, film } = judged(settings({ light: false }));
  // The strips' edges cover few pixels; of all pixels, 95 % are known from the first sample on.
  expect(verdict.noise).toBeGreaterThan(0.005);
  expect(Math.min(...film.samples())).toBe(64);
});

test('masks are not drawn aside by ending where the picture is clean', () => {
  const sets = scene.parts.map((_, i) => [i % 2]);
  const truth = judged(settings({ samples: 4096, seed: 99 }), [4096]).film.coverage(sets, 2)[0]!;
  const seeds = Array.from({ length: 24 }, (_, seed) => {
    const { film } = judged(settings({ samples: 256, noise: 0.03, seed }), [4, 8, 16, 32, 64, 128, 256]);
    return { mask: film.coverage(sets, 2)[0]!, samples: film.samples() };
  });
  // Some ended early, some did not: otherwise this says nothing.
  const ends = new Set(seeds.flatMap((s) => [...s.samples]));
  expect(ends.size).toBeGreaterThan(1);
  // The mean over edge pixels, where masks are between nothing and all.
  const edges = [...truth.keys()].filter((p) => truth[p]! > 0.02 && truth[p]! < 0.98);
  const errors = seeds.map(({ mask }) => edges.reduce((n, p) => n + mask[p]! - truth[p]!, 0) / edges.length);
  const mean = errors.reduce((a, b) => a + b) / errors.length;
  const deviation = Math.sqrt(errors.reduce((n, e) => n + (e - mean) ** 2, 0) / (errors.length - 1));
  expect(Math.abs(mean)).toBeLessThan(3.5 * (deviation / Math.sqrt(errors.length)) + 2e-4);
});
