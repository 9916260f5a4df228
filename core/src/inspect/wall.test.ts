import { sample } from '../../test/fixtures/samples.ts';
import { buildIdIndex } from '../idindex/id-index.ts';
import { findBeauty } from '../version/beauty.ts';
import { loadIdLayers } from '../idlayers/load.ts';
import { idsPicture, passPicture, rangeOf } from '../display/pass-picture.ts';
import { layerKindOf } from '../version/layer-kinds.ts';
import { explainRanks, rankCounts, ranksNeeded } from './ranks-needed.ts';
import { wallOf } from './wall.ts';

const image = sample('all.exr');
const { layers } = loadIdLayers(image);
const wall = wallOf(image.header, findBeauty(image.header), layers);

test('every channel of a frame hangs in one pass, the picture first, then IDs, then the rest', () => {
  expect(wall.map((p) => [p.name, p.shownAs])).toEqual([
    ['picture', 'light'],
    ['CryptoObject', 'ids'],
    ['CryptoMaterial', 'ids'],
    ['depth', 'range'],
  ]);
  const hung = wall.flatMap((p) => p.channels);
  expect([...hung].sort()).toEqual(image.header.channels.map((c) => c.name).sort());
  expect(wall[0]!.channels).toEqual(['R', 'G', 'B', 'A']);
  expect(wall[1]!.channels.slice(0, 5).map((c) => c.slice(-4))).toEqual([
    '00.R',
    '00.G',
    '00.B',
    '00.A',
    '01.R',
  ]);
  expect(wall.reduce((sum, p) => sum + p.share, 0)).toBeCloseTo(1);
});

test('a pass is known by how renderers call it', () => {
  const kinds = (...names: [string, number][]) => names.map(([name, n]) => layerKindOf(name, n).kind);
  expect(kinds(['depth', 1], ['ViewLayer.Depth', 1], ['Z', 1], ['zDepth', 1])).toEqual(
    Array(4).fill('depth'),
  );
  expect(kinds(['N', 3], ['normal', 3], ['world_normals', 3])).toEqual(Array(3).fill('normals'));
  expect(kinds(['AO', 1], ['ambient_occlusion', 3], ['occlusion', 1])).toEqual(Array(3).fill('occlusion'));
  expect(kinds(['diffuse_direct', 3], ['specular', 3], ['P', 3])).toEqual([
    'diffuse',
    'reflection',
    'position',
  ]);
  expect(kinds(['mask_hive', 1], ['hive', 1], ['hive', 3])).toEqual(['coverage', 'numbers', 'colour']);
});

test('how many ranks the pixels need is counted as the coverages say it', () => {
  const planes = layers.find((l) => l.name === 'CryptoObject')!.planes!;
  const index = buildIdIndex(planes);
  const counted: number[] = [];
  for (let p = 0; p < planes.width * planes.height; p++) {
    let n = 0;
    planes.ids.forEach((ids, r) => (n += Number(ids[p] !== 0 && planes.coverage[r]![p]! > 0)));
    counted[n] = (counted[n] ?? 0) + 1;
  }
  expect(ranksNeeded(index)).toEqual(Array.from(counted, (n) => n ?? 0));
  expect(rankCounts([5, 1000, 200, 30])).toBe('2 ranks: 1,200 pixels · 4 ranks: 30 pixels');
  expect(explainRanks([10, 80, 15, 5], 4)).toBe(
    '2 layers, two ranks in each. 95 % of the pixels need only the first two; the fullest pixel holds 3 IDs.',
  );
  expect(explainRanks([0, 9, 1], 2)).toBe(
    '1 layer, two ranks in each. No pixel needs more than the first two.',
  );
  expect(explainRanks([100], 6)).toBe('Nothing in this frame has an ID.');
  expect(explainRanks([0, 99_999, 0, 0, 1], 4)).toContain('99.9 % of the pixels');
});

test('numbers are shown in the range in which nearly all of them lie', () => {
  const depth = Float32Array.from({ length: 10_000 }, (_, i) =>
    i === 7 ? 1e30 : i === 8 ? NaN : 2 + (i % 100) / 10,
  );
  const { from, to } = rangeOf([depth]);
  expect(from).toBeGreaterThanOrEqual(2);
  expect(from).toBeLessThan(2.2);
  expect(to).toBeGreaterThan(11.5);
  expect(to).toBeLessThanOrEqual(12);
  expect(rangeOf([new Float32Array(9).fill(3)])).toEqual({ from: 0, to: 3 });
  expect(rangeOf([new Float32Array(9).fill(NaN)])).toEqual({ from: 0, to: 1 });
});

test('passes become pictures: light by the sRGB curve, shares and directions as they are, small by means', () => {
  const size = { width: 4, height: 2 };
  const plane = (...v: number[]) => Float32Array.from(v);
  const bytes = (...args: Parameters<typeof passPicture>) =>
    [...passPicture(...args).data].filter((_, i) => i % 4 === 0);
  // 0.5 in light is 188 on the screen.
  expect(bytes([plane(0, 0.5, 1, 2, 0, 0, 0, 0)], size, 'light', 4).slice(0, 4)).toEqual([0, 188, 255, 255]);
  expect(bytes([plane(0, 0.5, 1, -1, 0, 0, 0, 0)], size, 'share', 4).slice(0, 4)).toEqual([0, 128, 255, 0]);
  expect(bytes([plane(-1, 0, 1, NaN, 0, 0, 0, 0)], size, 'directions', 4).slice(0, 4)).toEqual([
    0, 128, 255, 0,
  ]);
  expect(bytes([plane(0, 0.5, 1, 1, 0, 0, 0, 0)], size, 'light', 4, true).slice(0, 3)).toEqual([0, 128, 255]);
  const small = passPicture([plane(0, 1, 0.2, NaN, 1, 0, 0.4, 0.3)], size, 'share', 2);
  expect([small.width, small.height, small.data[0], small.data[4]]).toEqual([2, 1, 128, 77]);
});

test('an ID layer as a picture: alike where the same thing is, another colour beside it', () => {
  const index = buildIdIndex(layers.find((l) => l.name === 'CryptoObject')!.planes!);
  const shown = idsPicture(index, 640);
  expect([shown.width, shown.height]).toEqual([640, 360]);
  expect(new Set(new Uint32Array(shown.data.buffer)).size).toBeGreaterThan(10);
  const half = idsPicture(index, 320);
  expect([half.width, half.height]).toEqual([320, 180]);
});
