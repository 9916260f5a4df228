/**
 * Renders the pairs: crops of the demo scenes, each rendered twice with the same samples, once with another colour of one
 * material, the light that is scattered there before, and which objects, materials, and both at once every pixel shows. What edges are judged by.
 *   npx tsx core/test/pairs/make.ts [name…]
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { nodeZlib } from '@zesty-crow/core/node';
import { writeExr } from '../../src/formats/exr/write.ts';
import { encodeCryptomatte } from '../../src/idlayers/cryptomatte.ts';
import { openScene } from '../../src/scene/open.ts';
import { sceneAt } from '../../src/scene/read-gltf.ts';
import type { Scene } from '../../src/scene/scene.ts';
import { Film, renderTiles } from '../../src/render/film.ts';
import { prepare } from '../../src/render/waves/prepared.ts';
import type { LightPart } from '../../src/render/gather.ts';
import { DEFAULT_SETTINGS } from '../../src/render/settings.ts';
import { TileRenderer } from '../../src/render/tile.ts';
import { floatsToHalves } from '../../src/planes/half.ts';
import { PAIRS, type Pair } from './pairs.ts';

const SIZE = { width: 960, height: 540 };
const SAMPLES = 96;
/** Share of a frame's time in which the shutter is open. */
const SHUTTER = 0.5;
const RANKS = 8;

const demo = (name: string) =>
  new Uint8Array(readFileSync(new URL(`../../../demo/files/${name}`, import.meta.url)));

/** The rectangles of the picture that meet a crop, rendered one by one. */
function rendered(scene: Scene, pair: Pair): Film {
  const gather = { ...DEFAULT_SETTINGS.gather, lightParts: true };
  const settings = { ...DEFAULT_SETTINGS, ...SIZE, samples: SAMPLES, gather };
  const renderer = new TileRenderer(prepare(scene), settings);
  const { x, y, width, height } = pair.crop;
  const meets = renderTiles(SIZE.width, SIZE.height).filter(
    (t) => t.x0 < x + width && t.x1 > x && t.y0 < y + height && t.y1 > y,
  );
  return new Film(
    scene,
    settings,
    meets.map((area) => renderer.extend(renderer.begin(area), SAMPLES)),
  );
}

const cut = <T extends Float32Array | Uint32Array>(plane: T, { x, y, width, height }: Pair['crop']): T => {
  const out = plane.slice(0, width * height) as T;
  for (let row = 0; row < height; row++) {
    const from = (y + row) * SIZE.width + x;
    out.set(plane.subarray(from, from + width) as never, row * width);
  }
  return out;
};

async function make(name: string, pair: Pair): Promise<void> {
  const scene = sceneAt(
    await openScene(demo(pair.scene)),
    { time: pair.time, frameTime: 1 / 24, shutter: SHUTTER },
    [],
  );
  const before = rendered(scene, pair);
  const recoloured = {
    ...scene,
    materials: scene.materials.map((m) =>
      m.name === pair.material
        ? { ...m, colour: m.colour.map((c, k) => c * pair.by[k]!) as unknown as typeof m.colour }
        : m,
    ),
  };
  const after = rendered(recoloured, pair);
  const light = (film: Film, prefix: string, parts?: LightPart[]) =>
    film.light(parts).map((plane, k) => ({
      name: `${prefix}${'RGB'[k]!}`,
      type: 'half' as const,
      xSampling: 1,
      ySampling: 1,
      pLinear: false,
      data: floatsToHalves(cut(plane, pair.crop)),
    }));
  // An ID is a number counted from 1; the names tell objects, materials, and both at once apart.
  const layer = (what: string, nameOf: (part: Scene['parts'][number]) => string) => {
    const names = [...new Set(scene.parts.map(nameOf))];
    const ids = Uint32Array.from(scene.parts, (p) => names.indexOf(nameOf(p)) + 1);
    const { width, height } = pair.crop;
    const whole = before.ranks(ids, RANKS);
    const ranks = {
      width,
      height,
      ids: whole.ids.map((p) => cut(p, pair.crop)),
      coverage: whole.coverage.map((p) => cut(p, pair.crop)),
    };
    return encodeCryptomatte(
      what,
      ranks,
      names.map((n, i) => [n, i + 1] as const),
    );
  };
  const object = (p: Scene['parts'][number]) => scene.objects[p.object]!.name;
  const material = (p: Scene['parts'][number]) => scene.materials[p.material]!.name;
  const layers = [
    layer('Objects', object),
    layer('Materials', material),
    layer('Both', (p) => `${object(p)} ${material(p)}`),
  ];
  const bytes = writeExr(
    {
      dataWindow: { xMin: 0, yMin: 0, xMax: pair.crop.width - 1, yMax: pair.crop.height - 1 },
      channels: [
        ...light(before, ''),
        ...light(before, 'diffuse.', ['diffuseDirect', 'diffuseIndirect']),
        ...light(after, 'after.'),
        ...layers.flatMap((l) => l.channels),
      ],
      attributes: layers.flatMap((l) => l.attributes),
    },
    { compression: 'zip', zlib: nodeZlib },
  );
  mkdirSync(new URL('../fixtures/pairs/', import.meta.url), { recursive: true });
  writeFileSync(new URL(`../fixtures/pairs/${name}.exr`, import.meta.url), bytes);
  console.log(`${name}: ${(bytes.length / 1024).toFixed(0)} KiB`);
}

const wanted = process.argv.slice(2);
for (const [name, pair] of Object.entries(PAIRS))
  if (wanted.length === 0 || wanted.includes(name)) await make(name, pair);
