import { availableParallelism, totalmem } from 'node:os';
import type { Worker } from 'node:worker_threads';
import { Film, renderTiles } from '../src/render/film.ts';
import { prepare } from '../src/render/waves/prepared.ts';
import { settingsFault, type RenderSettings } from '../src/render/settings.ts';
import { tileBuffers, type TileSums } from '../src/render/tile.ts';
import type { RgbPlanes } from '../src/planes/rgb-planes.ts';
import type { Scene } from '../src/scene/scene.ts';
import { endThreads, restThreads, takeThreads, type TileOrder } from './render-threads.ts';

export interface RenderControl {
  /** Called after each piece of work with the share of samples that is taken, 0 to 1, and samples a pixel so far. */
  onProgress?: (done: number, samples: number) => void;
  /** Called now and then with the picture so far, scene-linear; mid grey where nothing is yet. */
  onLook?: (planes: RgbPlanes) => void;
  /** Ends the render; the promise rejects with the signal's reason. */
  signal?: AbortSignal;
  /** Ends the render with what there is, as soon as every pixel has some samples. */
  keep?: AbortSignal;
  /** Threads; all cores by default. */
  threads?: number;
  /** Bytes that the scene may take while it is rendered, besides what it is read from; half of the machine's by default. */
  memory?: number;
}

/** Share of the machine's memory that one scene may take. */
const MEMORY_SHARE = 0.5;

/** Least milliseconds between two looks at the picture, and how many times as long as one takes. */
const LOOK_EVERY = 1500;
const LOOK_SHARE = 30;

/** Samples a pixel after the next round: a quick first look, then twice as many, at most 128 more. */
const nextRound = (samples: number, most: number) =>
  Math.min(most, samples === 0 ? 4 : Math.max(16, Math.min(2 * samples, samples + 128)));

/**
 * Renders a whole picture on several threads, in rounds of rising samples. The result is the same for any number of
 * threads. Rejects with the signal's reason when cancelled.
 */
export async function renderScene(
  scene: Scene,
  settings: RenderSettings,
  control: RenderControl = {},
): Promise<Film> {
  const fault = settingsFault(settings);
  if (fault) throw new Error(fault);
  const areas = renderTiles(settings.width, settings.height);
  const sums: (TileSums | undefined)[] = areas.map(() => undefined);
  const threads = Math.max(1, Math.min(control.threads ?? availableParallelism(), areas.length));
  const prepared = prepare(scene, threads, control.memory ?? totalmem() * MEMORY_SHARE);
  const workers = takeThreads(threads, { prepared, settings });
  const film = (tiles: readonly TileSums[]) => new Film(scene, settings, tiles);
  let nextLook = 0;
  const [r, g, b] = [0, 1, 2].map(() =>
    new Float32Array(control.onLook ? settings.width * settings.height : 0).fill(0.18),
  ) as [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];
  /** Takes over what a rectangle looks like; without light its objects are shown in grey by their numbers. */
  const look = (tile: TileSums) => {
    if (!control.onLook) return;
    const part = film([tile]);
    if (settings.light) part.light(undefined, [r, g, b]);
    else {
      const { x0, x1, y0, y1 } = tile.area;
      for (const plane of [r, g, b])
        for (let y = y0; y < y1; y++) plane.fill(0, y * settings.width + x0, y * settings.width + x1);
      part.mix(greys, [r, g, b]);
    }
    const now = performance.now();
    if (now < nextLook) return;
    control.onLook({ width: settings.width, height: settings.height, r, g, b });
    nextLook = now + Math.max(LOOK_EVERY, LOOK_SHARE * (performance.now() - now));
  };
  const greys = scene.parts.map((_, i) => {
    const grey = 0.05 + 0.6 * ((i * 0.618034) % 1);
    return [grey, grey, grey] as const;
  });

  /** Brings every rectangle to `upTo` samples; false if it was told to keep what there is. */
  const round = (from: number, upTo: number) =>
    new Promise<boolean>((resolve, reject) => {
      const due = areas.map((_, i) => i).filter((i) => !sums[i]?.finished.every((f) => f === 1));
      let next = 0;
      let done = 0;
      let underWay = 0;
      const stopped = () => control.keep?.aborted === true && from > 0;
      const give = (worker: Worker) => {
        if (next >= due.length || stopped()) return;
        const number = due[next++]!;
        const order: TileOrder = { number, area: areas[number]!, sums: sums[number], upTo };
        underWay++;
        worker.postMessage(order, order.sums ? tileBuffers(order.sums) : []);
      };
      const end = () => {
        if (underWay === 0 && (done === due.length || stopped())) resolve(done === due.length);
      };
      for (const worker of workers) {
        worker.removeAllListeners('message');
        worker.removeAllListeners('error');
        worker.on('message', ({ number, tile }: { number: number; tile: TileSums }) => {
          sums[number] = tile;
          underWay--;
          done++;
          const share =
            (from + ((upTo - from) * (areas.length - due.length + done)) / areas.length) / settings.samples;
          control.onProgress?.(share, upTo);
          look(tile);
          give(worker);
          end();
        });
        worker.once('error', reject);
        give(worker);
      }
      end();
    });
  let stop: (reason: Error) => void = () => undefined;
  const cancelled = new Promise<never>((_, reject) => {
    stop = reject;
    if (control.signal?.aborted) reject(control.signal.reason as Error);
    control.signal?.addEventListener('abort', () => reject(control.signal!.reason as Error), { once: true });
  });
  cancelled.catch(() => undefined);
  for (const worker of workers)
    worker.once('exit', () => stop(new Error('A render thread ended before its work was done.')));
  try {
    for (let samples = 0; samples < settings.samples;) {
      const upTo = nextRound(samples, settings.samples);
      const whole = await Promise.race([round(samples, upTo), cancelled]);
      samples = upTo;
      if (!whole || control.keep?.aborted || sums.every((t) => t!.finished.every((f) => f === 1))) break;
      if (
        settings.maskStep > 0 &&
        samples >= 32 &&
        sums.every((t) => t!.change < settings.maskStep || t!.finished.every((f) => f === 1))
      )
        break;
    }
  } catch (error) {
    await endThreads(workers);
    throw error;
  }
  restThreads(workers);
  return film(sums as TileSums[]);
}
