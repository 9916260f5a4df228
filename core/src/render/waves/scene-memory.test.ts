import { leftOf, material, renderFilm, sceneOf } from '../../../test/fixtures/scenes.ts';
import type { Texture } from '../../scene/texture.ts';
import { DEFAULT_SETTINGS } from '../settings.ts';
import { TileRenderer } from '../tile.ts';
import { prepare, SceneMemoryError } from './prepared.ts';
import { neededBytes } from './scene-memory.ts';

const size = 512;
const texture: Texture = {
  width: size,
  height: size,
  data: new Uint8Array(4 * size * size).fill(200),
  wrapS: 'repeat',
  wrapT: 'repeat',
};
const use = { texture, set: 0, transform: [1, 0, 0, 0, 1, 0] } as const;
const scene = {
  ...sceneOf(
    Array.from({ length: 20_000 }, (_, i) => [0, 0, -2, 1, 0, -2, 0, 1, -2].map((v) => v + 0.01 * (i % 300))),
    [material({ colourMap: use, surfaceMap: use })],
  ),
  uvs: new Float32Array(4 * 60_000),
};

test('what a scene needs is reckoned before it is built: not less than it takes, and not several times as much', () => {
  for (const lanes of [1, 4]) {
    const { memory } = prepare(scene, lanes).memory;
    const needed = neededBytes(scene, lanes);
    expect(needed).toBeGreaterThan(memory.buffer.byteLength);
    expect(needed).toBeLessThan(2.5 * memory.buffer.byteLength);
  }
});

test('a scene beyond its budget is refused in words, before it is built', () => {
  const budget = neededBytes(scene, 2) - 1;
  expect(() => prepare(scene, 2, budget)).toThrow(SceneMemoryError);
  expect(() => prepare(scene, 2, budget)).toThrow(
    /needs about \d+ MB of memory.*may take \d+ MB.*smaller textures/,
  );
  expect(() => prepare(scene, 2, budget + 1)).not.toThrow();
});

test('lanes work beside each other: what one renders does not depend on the others', () => {
  const walls = sceneOf([...leftOf(0.2), ...leftOf(9, -3)]);
  const settings = { ...DEFAULT_SETTINGS, width: 16, height: 8, samples: 16 };
  const prepared = prepare(walls, 2);
  const renderers = [0, 1].map((lane) => new TileRenderer(prepared, settings, lane));
  const area = { x0: 0, y0: 0, x1: 16, y1: 8 };
  const tiles = renderers.map((r) => r.begin(area));
  for (const upTo of [4, 16]) renderers.forEach((r, i) => (tiles[i] = r.extend(tiles[i]!, upTo)));
  expect(tiles[1]!.light).toEqual(tiles[0]!.light);
  expect([...tiles[0]!.seen]).toEqual([...renderFilm(walls, settings).tiles[0]!.seen]);
});
