import { availableParallelism } from 'node:os';
import type { ProbeFigures } from '../src/plan/cost.ts';
import { renderTiles } from '../src/render/film.ts';
import type { RenderSettings } from '../src/render/settings.ts';
import type { Scene } from '../src/scene/scene.ts';
import { renderScene, type RenderControl } from './render-pool.ts';

/** So many rectangles, spread over the frame, and so many seconds. */
const RECTANGLES = 48;
const SECONDS = 2;
/** Samples of a pixel that are dearer than later ones. */
const FEW = 4;

/** Numbers of rectangles spread evenly over a frame, by steps of the golden ratio. */
function spread(count: number): number[] {
  const chosen = new Set<number>();
  for (let i = 0; chosen.size < Math.min(count, RECTANGLES); i++)
    chosen.add(Math.floor(((i * 0.6180339887) % 1) * count));
  return [...chosen];
}

/**
 * Renders a part of a frame for two seconds and tells how fast that goes and how noisy it is: seconds for a number of
 * samples, samples for a noise, and noise for a time follow. Undefined for a frame so small or a machine so slow that
 * nothing can be told.
 */
export async function probeScene(
  scene: Scene,
  settings: RenderSettings,
  control: Pick<RenderControl, 'signal' | 'threads' | 'memory'> = {},
): Promise<ProbeFigures | undefined> {
  const areas = renderTiles(settings.width, settings.height);
  const only = new Set(spread(areas.length));
  const pixels = areas.filter((_, i) => only.has(i)).reduce((n, a) => n + (a.x1 - a.x0) * (a.y1 - a.y0), 0);
  const started = performance.now();
  let first: number | undefined;
  let perSample: number | undefined;
  /** When the first few samples of each pixel were there, in seconds. */
  let few: number | undefined;
  const film = await renderScene(
    scene,
    { ...settings, samples: 65536, noise: 0, seconds: SECONDS },
    {
      ...control,
      only,
      onProgress(progress) {
        first ??= (performance.now() - started) / 1000;
        if (progress.samples > FEW) few ??= (performance.now() - started) / 1000 - first;
        perSample = progress.perSample ?? perSample;
      },
    },
  );
  if (perSample === undefined || film.noise === undefined) return undefined;
  const taken = film.tiles.reduce((n, t) => n + t.samples.reduce((a, b) => a + b, 0), 0) / pixels;
  return {
    beginning: first ?? 0,
    perMillion: (perSample / pixels) * 1e6,
    firstSamples: (Math.max(0, (few ?? 0) - FEW * perSample) / pixels) * 1e6,
    noiseOfOne: film.noise * Math.sqrt(taken),
    threads: control.threads ?? availableParallelism(),
  };
}
