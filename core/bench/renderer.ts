/** Speed and exactness of the renderer on the demo scene, as ratios within one run. */
import { readFileSync } from 'node:fs';
import {
  DEFAULT_SETTINGS,
  Film,
  GATHER_IDS,
  LIGHT_PARTS,
  prepare,
  readGlb,
  renderTiles,
  TileRenderer,
  type Gather,
  type Prepared,
  type RenderSettings,
  type Scene,
  type TileSums,
} from '../src/index.ts';
import { renderScene } from '../node/render-pool.ts';

const SAMPLES = 32;
const RUNS = 3;
/** Of so many rectangles of the picture one is rendered. */
const EVERY = 24;

const say = (name: string, text: string) => console.log(`${name.padEnd(46)} ${text}`);

/** One way to render: what is gathered, and what is made of it afterwards. */
interface Way {
  name: string;
  settings: RenderSettings;
  make?: (film: Film) => void;
}

function waysOf(scene: Scene): Way[] {
  const base: RenderSettings = { ...DEFAULT_SETTINGS, width: 960, height: 540, samples: SAMPLES };
  const gather = (more: Partial<Gather>): Gather => ({ ...GATHER_IDS, ...more });
  const numbers = Uint32Array.from(scene.parts, (_, i) => i + 1);
  const eight = scene.parts.map((p) => [p.object % 8]);
  const all = gather({
    lightParts: true,
    surface: true,
    shadow: true,
    occlusion: 0.2,
    through: [
      { way: 'refraction', depth: 1, roughness: 0.3 },
      { way: 'reflection', depth: 1, roughness: 0.3 },
    ],
  });
  return [
    {
      name: 'beauty alone',
      settings: { ...base, gather: gather({ ids: false }) },
      make: (f) => void f.light(),
    },
    {
      name: 'with both cryptomattes',
      settings: base,
      make(f) {
        f.light();
        f.ranks(numbers, 6);
        f.ranks(numbers, 6);
      },
    },
    {
      name: 'with eight object buffers',
      settings: base,
      make(f) {
        f.light();
        f.coverage(eight, 8);
      },
    },
    {
      name: 'with every data and light pass',
      settings: { ...base, gather: all },
      make(f) {
        for (const part of LIGHT_PARTS) f.light([part]);
        f.surface(0, 12);
        f.shadow();
        f.occlusion();
        f.ranks(numbers, 4, 0);
        f.ranks(numbers, 4, 1);
      },
    },
    { name: 'IDs only', settings: { ...base, light: false }, make: (f) => void f.ranks(numbers, 6) },
  ];
}

/**
 * Seconds of each way, and the rays of the first. The ways take turns at every rectangle, and of several turns the
 * shortest counts: so the swings of a busy machine meet all of them alike.
 */
function measure(prepared: Prepared, ways: Way[]): { seconds: number[]; rays: number } {
  const renderers = ways.map((way) => new TileRenderer(prepared, way.settings));
  const { width, height } = ways[0]!.settings;
  const areas = renderTiles(width, height).filter((_, i) => i % EVERY === 0);
  const tiles = ways.map((): TileSums[] => []);
  const seconds = ways.map(() => 0);
  for (const area of areas) {
    const least = ways.map(() => Infinity);
    for (let run = 0; run < RUNS; run++)
      renderers.forEach((renderer, w) => {
        const started = performance.now();
        const tile = renderer.extend(renderer.begin(area), SAMPLES);
        least[w] = Math.min(least[w]!, performance.now() - started);
        if (run === 0) tiles[w]!.push(tile);
      });
    least.forEach((ms, w) => (seconds[w]! += ms / 1000));
  }
  ways.forEach((way, w) => {
    let least = Infinity;
    for (let run = 0; run < RUNS; run++) {
      const started = performance.now();
      way.make?.(new Film(prepared.scene, way.settings, tiles[w]!));
      least = Math.min(least, performance.now() - started);
    }
    seconds[w]! += least / 1000;
  });
  return { seconds, rays: tiles[0]!.reduce((n, t) => n + t.rays, 0) };
}

/** Coverage of a crop at some samples a pixel against many more. */
function exactness(prepared: Prepared): void {
  // Among the lavender, where many thin things share a pixel.
  const area = { x0: 100, y0: 430, x1: 140, y1: 452 };
  const coverageAt = (samples: number, seed: number) => {
    const settings = { ...DEFAULT_SETTINGS, width: 960, height: 540, samples, seed, light: false };
    const renderer = new TileRenderer(prepared, settings);
    const film = new Film(prepared.scene, settings, [renderer.extend(renderer.begin(area), samples)]);
    return film.coverage(
      prepared.scene.parts.map((_, i) => [i]),
      prepared.scene.parts.length,
    );
  };
  // Another seed: the truth must not share its samples with what is measured.
  const truth = coverageAt(4096, 1);
  for (const samples of [16, 64, 256, 1024]) {
    const found = coverageAt(samples, 0);
    let sum = 0;
    let worst = 0;
    let count = 0;
    found.forEach((plane, i) =>
      plane.forEach((c, p) => {
        const t = truth[i]![p]!;
        if (c === 0 && t === 0) return;
        const error = Math.abs(c - t);
        sum += error;
        worst = Math.max(worst, error);
        count++;
      }),
    );
    say(
      `masks at ${samples} samples, against 4096`,
      `mean error ${(sum / count).toFixed(5)}, worst ${worst.toFixed(4)}`,
    );
  }
}

function lightSum(prepared: Prepared): void {
  const settings = {
    ...DEFAULT_SETTINGS,
    width: 960,
    height: 540,
    samples: 32,
    gather: { ...GATHER_IDS, lightParts: true },
  };
  const renderer = new TileRenderer(prepared, settings);
  const area = { x0: 430, y0: 200, x1: 494, y1: 264 };
  const film = new Film(prepared.scene, settings, [renderer.extend(renderer.begin(area), 32)]);
  const beauty = film.light();
  const parts = LIGHT_PARTS.map((p) => film.light([p]));
  let largest = 0;
  beauty.forEach((plane, k) =>
    plane.forEach(
      (v, p) => (largest = Math.max(largest, Math.abs(parts.reduce((n, part) => n + part[k]![p]!, 0) - v))),
    ),
  );
  say('sum of the light passes against the beauty', `largest difference ${largest.toExponential(2)}`);
}

export async function benchRenderer(): Promise<void> {
  console.log('\nRenderer, demo scene at 960x540, one thread');
  const glb = readFileSync(new URL('../../demo/files/honey_table.glb', import.meta.url));
  const scene = await readGlb(new Uint8Array(glb));
  const started = performance.now();
  const prepared = prepare(scene);
  say(`tree of ${scene.indices.length / 3} triangles`, `${(performance.now() - started).toFixed(0)} ms`);
  const ways = waysOf(scene);
  const { seconds, rays } = measure(prepared, ways);
  const beauty = seconds[0]!;
  ways.forEach((way, w) =>
    say(way.name, `${seconds[w]!.toFixed(2)} s  ${(seconds[w]! / beauty).toFixed(3)} x the beauty`),
  );
  say(
    'rays',
    `${(rays / beauty / 1e6).toFixed(2)} million a second, ${(beauty * EVERY).toFixed(0)} s for a frame of ${SAMPLES} samples`,
  );

  const small = { ...DEFAULT_SETTINGS, width: 320, height: 180, samples: 16 };
  const threads: number[] = [];
  for (const n of [1, 2]) {
    const begun = performance.now();
    await renderScene(scene, small, { threads: n });
    threads.push(performance.now() - begun);
  }
  say('two threads against one, 320x180', `${(threads[0]! / threads[1]!).toFixed(2)} times as fast`);
  exactness(prepared);
  lightSum(prepared);
}
