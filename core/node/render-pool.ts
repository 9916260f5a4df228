import { availableParallelism, totalmem } from 'node:os';
import type { Worker } from 'node:worker_threads';
import { Film, renderTiles } from '../src/render/film.ts';
import { prepare } from '../src/render/waves/prepared.ts';
import { settingsFault, type RenderSettings } from '../src/render/settings.ts';
import { tileBuffers, type TileSums } from '../src/render/tile.ts';
import type { RgbPlanes } from '../src/planes/rgb-planes.ts';
import { roundsOf, type Round } from '../src/render/rounds.ts';
import type { Scene } from '../src/scene/scene.ts';
import { GrowingPicture } from './growing-picture.ts';
import { endThreads, restThreads, takeThreads, type TileOrder } from './render-threads.ts';

export interface RenderControl {
  /** Called after each piece of work with the share of samples that is taken, 0 to 1, and samples a pixel so far. */
  onProgress?: (done: number, samples: number) => void;
  /** Called now and then with the whole picture so far, scene-linear; what has no sample yet is filled from around it. */
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
  const growing = control.onLook && new GrowingPicture(scene, settings, control.onLook);

  /** Goes once over all rectangles; false if it was told to keep what there is. */
  const round = (from: number, { upTo, grid }: Round) =>
    new Promise<boolean>((resolve, reject) => {
      const due = areas.map((_, i) => i).filter((i) => !sums[i]?.finished.every((f) => f === 1));
      let next = 0;
      let done = 0;
      let underWay = 0;
      // Before that some pixels have none.
      const stopped = () => control.keep?.aborted === true && from >= 1;
      const give = (worker: Worker) => {
        if (next >= due.length || stopped()) return;
        const number = due[next++]!;
        const order: TileOrder = { number, area: areas[number]!, sums: sums[number], upTo, grid };
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
          const to = upTo / grid;
          const share =
            (from + ((to - from) * (areas.length - due.length + done)) / areas.length) / settings.samples;
          control.onProgress?.(share, upTo);
          growing?.take(tile, upTo);
          give(worker);
          end();
        });
        worker.once('error', reject);
        // One to work on and one to go on with, so that none waits while a look is made here.
        give(worker);
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
    let from = 0;
    for (const next of roundsOf(settings)) {
      const whole = await Promise.race([round(from, next), cancelled]);
      const samples = next.upTo;
      from = samples / next.grid;
      growing?.endRound(samples);
      if (next.grid > 1) continue;
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
  return new Film(scene, settings, sums as TileSums[]);
}
