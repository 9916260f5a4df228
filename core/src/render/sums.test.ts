import { GLASS, leftOf, material, sceneOf } from '../../test/fixtures/scenes.ts';
import { Film } from './film.ts';
import { GATHER_IDS } from './gather.ts';
import { sourcesOf } from './light-sources.ts';
import { DEFAULT_SETTINGS, type RenderSettings } from './settings.ts';
import { packSums, reopened, sumsBytes, SumsError, unpackSums } from './sums.ts';
import { TileRenderer } from './tile.ts';
import { prepare } from './waves/prepared.ts';

const SIZE = { width: 40, height: 24 };
const scene = sceneOf([...leftOf(0.3, -1), ...leftOf(9, -3)], [material({ ...GLASS }), material()], (i) =>
  i < 2 ? 0 : 1,
);
const gather = {
  ...GATHER_IDS,
  lightParts: true,
  lamps: true,
  surface: true,
  shadow: true,
  occlusion: 0.5,
  through: [{ way: 'refraction' as const, depth: 1, roughness: 0.3 }],
};
const settings: RenderSettings = { ...DEFAULT_SETTINGS, ...SIZE, samples: 16, bounces: 1, gather };
const key = { ...SIZE, key: 'hive' };
const areas = [
  { x0: 0, y0: 0, x1: 32, y1: 24 },
  { x0: 32, y0: 0, x1: 40, y1: 24 },
];
const bytesOf = (film: Film) => new Uint8Array(Buffer.concat([...packSums(film.tiles, key)]));

function rendered(own: RenderSettings, from?: Film): Film {
  const renderer = new TileRenderer(prepare(scene), own);
  const tiles = from ? reopened(unpackSums(bytesOf(from), key)) : areas.map((a) => renderer.begin(a));
  return new Film(
    scene,
    own,
    tiles.map((tile) => renderer.extend(tile, own.samples)),
  );
}

test('samples added to stored sums give the bits that they would have given at once', () => {
  const once = rendered({ ...settings, samples: 16 });
  const twice = rendered({ ...settings, samples: 16 }, rendered({ ...settings, samples: 5 }));
  expect(twice.light()).toEqual(once.light());
  expect(twice.lamp(0)).toEqual(once.lamp(0));
  expect(twice.surface(0, 3)).toEqual(once.surface(0, 3));
  expect([twice.shadow(), twice.occlusion(), twice.alpha()]).toEqual([
    once.shadow(),
    once.occlusion(),
    once.alpha(),
  ]);
  const ids = Uint32Array.from(scene.parts, (_, i) => i + 1);
  expect(twice.ranks(ids, 6)).toEqual(once.ranks(ids, 6));
  expect(twice.ranks(ids, 6, 0)).toEqual(once.ranks(ids, 6, 0));
});

test('what sums take is told beforehand', () => {
  const real = bytesOf(rendered(settings)).length;
  const told = sumsBytes(SIZE.width * SIZE.height, gather, true, sourcesOf(scene).length);
  expect(told / real).toBeGreaterThan(0.8);
  expect(told / real).toBeLessThan(1.25);
});

test('sums of something else, of half a file, or none at all are refused in words', () => {
  const bytes = bytesOf(rendered(settings));
  expect(() => unpackSums(bytes, { ...key, key: 'jar' })).toThrow(SumsError);
  expect(() => unpackSums(bytes, { ...key, width: 41 })).toThrow(SumsError);
  expect(() => unpackSums(bytes.subarray(0, bytes.length - 9), key)).toThrow('not whole');
  expect(() => unpackSums(new Uint8Array(50), key)).toThrow(SumsError);
  expect(() => unpackSums(new TextEncoder().encode('bees\n'), key)).toThrow(SumsError);
});
