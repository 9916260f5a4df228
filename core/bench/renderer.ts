/** Speed and exactness of the renderer, as ratios within one run. */
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
import { earlierRenderer, followEarlier } from './earlier.ts';
import { followNow, rayFigures, raySets } from './rays.ts';
import type { Tell } from './report.ts';

const RUNS = 3;

/** How much is rendered. */
export interface RenderBench {
  width: number;
  height: number;
  samples: number;
  /** Of so many rectangles of the picture one is rendered. */
  every: number;
  /** Samples that masks are judged at, the last of which is taken for the truth. */
  masks: readonly number[];
}
export const FULL: RenderBench = {
  ...{ width: 960, height: 540, samples: 32, every: 24 },
  masks: [16, 64, 256, 1024, 4096],
};

/** One way to render: what is gathered, and what is made of it afterwards. */
interface Way {
  name: string;
  settings: RenderSettings;
  /** Most that it may take of the picture alone. */
  goal?: number;
  make?: (film: Film) => void;
}

function waysOf(scene: Scene, { width, height, samples }: RenderBench): Way[] {
  const base: RenderSettings = { ...DEFAULT_SETTINGS, width, height, samples };
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
      goal: 1.1,
      settings: base,
      make(f) {
        f.light();
        f.ranks(numbers, 6);
        f.ranks(numbers, 6);
      },
    },
    {
      name: 'with eight object buffers',
      goal: 1.1,
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
    {
      name: 'IDs only',
      goal: 0.2,
      settings: { ...base, light: false },
      make: (f) => void f.ranks(numbers, 6),
    },
  ];
}

/**
 * Seconds of each way, and the rays of the first. The ways take turns at every rectangle, and of several turns the
 * shortest counts: so the swings of a busy machine meet all of them alike.
 */
function measure(
  scene: Scene,
  prepared: Prepared,
  ways: Way[],
  { every }: RenderBench,
): { seconds: number[]; rays: number } {
  const renderers = ways.map((way) => new TileRenderer(prepared, way.settings));
  const { width, height, samples } = ways[0]!.settings;
  const areas = renderTiles(width, height).filter((_, i) => i % every === 0);
  const tiles = ways.map((): TileSums[] => []);
  const seconds = ways.map(() => 0);
  for (const area of areas) {
    const least = ways.map(() => Infinity);
    for (let run = 0; run < RUNS; run++)
      renderers.forEach((renderer, w) => {
        const started = performance.now();
        const tile = renderer.extend(renderer.begin(area), samples);
        least[w] = Math.min(least[w]!, performance.now() - started);
        if (run === 0) tiles[w]!.push(tile);
      });
    least.forEach((ms, w) => (seconds[w]! += ms / 1000));
  }
  ways.forEach((way, w) => {
    let least = Infinity;
    for (let run = 0; run < RUNS; run++) {
      const started = performance.now();
      way.make?.(new Film(scene, way.settings, tiles[w]!));
      least = Math.min(least, performance.now() - started);
    }
    seconds[w]! += least / 1000;
  });
  return { seconds, rays: tiles[0]!.reduce((n, t) => n + t.rays, 0) };
}

/** Coverage of a crop at some samples a pixel against many more. */
function exactness(
  tell: Tell,
  scene: Scene,
  prepared: Prepared,
  { width, height, masks }: RenderBench,
): void {
  // Among the lavender, where many thin things share a pixel.
  const x0 = Math.round(0.104 * width);
  const y0 = Math.round(0.797 * height);
  const area = { x0, y0, x1: x0 + 40, y1: y0 + 22 };
  const coverageAt = (samples: number, seed: number) => {
    const settings = { ...DEFAULT_SETTINGS, width, height, samples, seed, light: false };
    const renderer = new TileRenderer(prepared, settings);
    const film = new Film(scene, settings, [renderer.extend(renderer.begin(area), samples)]);
    return film.coverage(
      scene.parts.map((_, i) => [i]),
      scene.parts.length,
    );
  };
  // Another seed: the truth must not share its samples with what is measured.
  const most = masks.at(-1)!;
  const truth = coverageAt(most, 1);
  for (const samples of masks.slice(0, -1)) {
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
    tell({
      name: `masks at ${samples} samples, mean error`,
      value: sum / count,
      unit: 'coverage',
      better: 'less',
      against: `${most} samples; worst ${worst.toFixed(4)}`,
    });
  }
}

function lightSum(
  tell: Tell,
  scene: Scene,
  prepared: Prepared,
  { width, height, samples }: RenderBench,
): void {
  const settings = {
    ...DEFAULT_SETTINGS,
    width,
    height,
    samples,
    gather: { ...GATHER_IDS, lightParts: true },
  };
  const renderer = new TileRenderer(prepared, settings);
  const x0 = Math.round(0.448 * width);
  const y0 = Math.round(0.37 * height);
  const area = { x0, y0, x1: x0 + 64, y1: y0 + 64 };
  const film = new Film(scene, settings, [renderer.extend(renderer.begin(area), samples)]);
  const beauty = film.light();
  const parts = LIGHT_PARTS.map((p) => film.light([p]));
  let largest = 0;
  beauty.forEach((plane, k) =>
    plane.forEach(
      (v, p) => (largest = Math.max(largest, Math.abs(parts.reduce((n, part) => n + part[k]![p]!, 0) - v))),
    ),
  );
  tell({
    name: 'sum of the light passes, largest difference',
    value: largest,
    unit: 'light',
    better: 'less',
    against: 'the picture',
  });
}

/** A renderer that takes part with rectangles of its own. */
type Rectangles = Pick<TileRenderer, 'begin' | 'extend'>;

/** Whole frames against an earlier renderer, taking turns at every rectangle; the shortest of several turns counts. */
async function againstEarlier(
  tell: Tell,
  glb: Uint8Array,
  folder: string,
  prepared: Prepared,
  ways: Way[],
  { every }: RenderBench,
): Promise<void> {
  const earlier = await earlierRenderer(folder);
  const old = earlier.prepare(await earlier.readGlb(glb));
  for (const way of ways) {
    const pair: Rectangles[] = [
      new earlier.TileRenderer(old, way.settings),
      new TileRenderer(prepared, way.settings),
    ];
    const spent = [0, 0];
    const { width, height, samples } = way.settings;
    for (const area of renderTiles(width, height).filter((_, i) => i % every === 0)) {
      const least = [Infinity, Infinity];
      for (let run = 0; run < RUNS; run++)
        pair.forEach((renderer, i) => {
          const started = performance.now();
          renderer.extend(renderer.begin(area), samples);
          least[i] = Math.min(least[i]!, performance.now() - started);
        });
      least.forEach((ms, i) => (spent[i]! += ms / 1000));
    }
    tell({
      name: `before: ${way.name}`,
      value: spent[0]! / spent[1]!,
      unit: 'x faster',
      goal: way.settings.light ? 3 : 1 / 0.6,
      better: 'more',
      against: `${spent[0]!.toFixed(2)} s before, ${spent[1]!.toFixed(2)} s now`,
    });
  }
}

/**
 * Figures of the renderer on a scene of the demo's kind, on one thread.
 * @param before folder of an earlier state to compare with
 */
export async function rendererFigures(
  tell: Tell,
  glb: Uint8Array,
  size: RenderBench,
  before?: string,
): Promise<void> {
  const scene = await readGlb(glb);
  const started = performance.now();
  const prepared = prepare(scene);
  const looked = performance.now() - started;
  const ways = waysOf(scene, size);
  const { seconds, rays } = measure(scene, prepared, ways, size);
  const beauty = seconds[0]!;
  tell({
    name: `tree of ${scene.indices.length / 3} triangles`,
    value: looked / 1000 / beauty,
    unit: 'x',
    better: 'less',
    against: `the picture alone, ${looked.toFixed(0)} ms`,
  });
  ways.forEach((way, w) =>
    tell({
      name: `${size.width}x${size.height}, ${size.samples} samples: ${way.name}`,
      value: seconds[w]! / beauty,
      unit: 'x',
      ...(way.goal === undefined ? {} : { goal: way.goal }),
      better: 'less',
      against: `the picture alone, ${seconds[w]!.toFixed(2)} s`,
    }),
  );
  tell({
    name: 'rays of the picture alone',
    value: rays / beauty / 1e6,
    unit: 'M/s',
    better: 'more',
    against: `${(beauty * size.every).toFixed(0)} s for the whole frame`,
  });
  const earlier = before === undefined ? undefined : await followEarlier(before, scene, ways[1]!.settings);
  rayFigures(tell, raySets(scene, prepared, size.width, size.height), followNow(prepared), earlier);
  if (before !== undefined) await againstEarlier(tell, glb, before, prepared, ways, size);
  exactness(tell, scene, prepared, size);
  lightSum(tell, scene, prepared, size);
}
