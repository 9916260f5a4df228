import { MIXED_SCENES, mixedPicture, WIDTH, type MixedScene } from '../../test/fixtures/mixed-scenes.ts';
import { mixturesKernel } from '../kernels/mixtures.ts';
import { plainMemory } from '../planes/tile-store.ts';
import { findMixtures } from './find-mixtures.ts';
import { KeptMixtures, mixturesOf } from './kept.ts';
import { packMixtures, unpackMixtures, type Mixtures } from './mixture.ts';
import { AROUND, fillLevels, fillPixels, newNeighbourhood } from './neighbourhood.ts';
import { SAMPLES } from './samples.ts';
import { newMixtures, solvePlain } from './solve.ts';
import { tileRuns } from './tile-runs.ts';

const made = (scene: MixedScene) => {
  const picture = mixedPicture(scene);
  return { ...picture, runs: tileRuns(picture.index, plainMemory) };
};
const lid = made(MIXED_SCENES['a sharp lid']!);
const cells = made(MIXED_SCENES['a comb of many cells']!);
const bee = made(MIXED_SCENES['a bee in flight']!);
const found = ({ planes, runs }: typeof lid, tile: number): Mixtures | undefined => {
  const packed = findMixtures.begin({ planes, runs, tiles: Uint32Array.of(tile) })(0);
  return packed && unpackMixtures(packed);
};
const placeOf = (m: Mixtures, i: number, tile: number) => {
  const [tx, ty] = [tile % 2, Math.floor(tile / 2)];
  return (ty * 64 + (m.place[i]! >> 6)) * WIDTH + tx * 64 + (m.place[i]! & 63);
};

test.each([
  ['a lid', lid],
  ['cells', cells],
  ['a bee', bee],
])('of %s the kernel finds what plain code finds', (_, picture) => {
  const levels = newNeighbourhood();
  const kernel = mixturesKernel(SAMPLES);
  let pixels = 0;
  for (const [x, y] of [
    [0, 0],
    [64, 0],
    [64, 64],
  ] as const) {
    const plain = newMixtures();
    fillPixels(levels[0]!, picture.planes, picture.runs, x, y);
    fillLevels(levels);
    solvePlain(levels, plain);
    kernel.fill(picture.planes, picture.runs, x - AROUND, y - AROUND);
    const quick = kernel.solve();
    expect([quick.pixels, quick.parts]).toEqual([plain.pixels, plain.parts]);
    pixels += plain.pixels;
    const { parts } = plain;
    expect(quick.place.subarray(0, quick.pixels)).toEqual(plain.place.subarray(0, plain.pixels));
    expect(quick.slot.subarray(0, parts)).toEqual(plain.slot.subarray(0, parts));
    expect(quick.coverage.subarray(0, parts)).toEqual(plain.coverage.subarray(0, parts));
    for (const k of ['r', 'g', 'b'] as const) {
      const off = Array.from(
        { length: parts },
        (_, q) => plain.coverage[q]! * Math.abs(quick[k][q]! - plain[k][q]!),
      );
      // In 32 bits; what it is worth in the pixel.
      expect(Math.max(...off)).toBeLessThan(5e-3);
      expect(off.reduce((a, b) => a + b, 0) / parts).toBeLessThan(1e-4);
    }
  }
  expect(pixels).toBeGreaterThan(100);
});

test('parts are the light of the pixel again, and none is negative or more than all of it', () => {
  const off = { least: 0, light: 0, shares: 0 };
  for (const picture of [lid, cells, bee])
    for (let tile = 0; tile < 4; tile++) {
      const m = found(picture, tile);
      if (!m) continue;
      for (let i = 0; i < m.pixels; i++)
        for (const k of ['r', 'g', 'b'] as const) {
          let sum = 0;
          let shares = 0;
          for (let q = m.first[i]!; q < m.first[i + 1]!; q++) {
            off.least = Math.min(off.least, m[k][q]!);
            sum += m.coverage[q]! * m[k][q]!;
            shares += m.coverage[q]!;
          }
          off.light = Math.max(off.light, Math.abs(sum - picture.planes[k][placeOf(m, i, tile)]!));
          off.shares = Math.max(off.shares, Math.abs(shares - 1));
        }
    }
  expect(off.least).toBe(0);
  expect(off.light).toBeLessThan(5e-5);
  expect(off.shares).toBeLessThan(5e-3);
});

test('the parts of a sharp edge have the colours that are mixed there', () => {
  let [error, pixels] = [0, 0];
  for (let tile = 0; tile < 4; tile++) {
    const m = found(lid, tile);
    if (!m) continue;
    for (let i = 0; i < m.pixels; i++) {
      const own = lid.parts[placeOf(m, i, tile)]!;
      for (let q = m.first[i]!; q < m.first[i + 1]!; q++) {
        const part = own.get(lid.index.ids[m.slot[q]!]!)!;
        error += part.share * Math.abs(m.g[q]! - part.light[1] / part.share);
      }
      pixels++;
    }
  }
  expect(pixels).toBeGreaterThan(200);
  expect(error / pixels).toBeLessThan(0.01);
});

test('tiles without a mixture, and light that is no number, are passed over', () => {
  const plain = made({ masked: [1], samples: 2, at: () => [1, [0.2, 0.3, 0.4]] });
  expect(found(plain, 0)).toBeUndefined();
  const broken = { ...lid, planes: { ...lid.planes, r: lid.planes.r.slice() } };
  const m = found(lid, 0)!;
  broken.planes.r[placeOf(m, 5, 0)] = NaN;
  const without = found(broken, 0)!;
  expect(without.pixels).toBe(m.pixels - 1);
  expect([...without.r, ...without.g, ...without.b].every(Number.isFinite)).toBe(true);
});

test('what is kept is what was found, in memory of its own', () => {
  const m = found(cells, 0)!;
  const kept = new KeptMixtures(4, plainMemory);
  expect(kept.knows(0)).toBe(false);
  kept.take(0, packMixtures(m, plainMemory));
  kept.take(1, undefined);
  expect([0, 1, 2].map((t) => kept.knows(t))).toEqual([true, true, false]);
  expect(mixturesOf(kept.data, 1)).toBeUndefined();
  const again = unpackMixtures(mixturesOf(kept.data, 0)!);
  for (const k of ['place', 'first', 'slot', 'coverage', 'r', 'g', 'b'] as const)
    expect(again[k]).toEqual(m[k]);
});
