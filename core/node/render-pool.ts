import { execFile } from 'node:child_process';
import { createRequire } from 'node:module';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { Worker } from 'node:worker_threads';
import {
  buildBvh,
  Film,
  renderTiles,
  settingsFault,
  type Bvh,
  type RenderSettings,
  type Scene,
  type TileResult,
} from '../src/index.ts';

/**
 * The thread's program as one script. Threads do not inherit the TypeScript loader on Node 20, and loaders that are
 * registered in several threads at once can wait for each other for ever; a bundle needs none.
 */
async function threadProgram(): Promise<string> {
  const esbuild = createRequire(import.meta.url).resolve('esbuild/bin/esbuild');
  const entry = fileURLToPath(new URL('./render-worker.ts', import.meta.url));
  const options = ['--bundle', '--platform=node', '--format=cjs', '--target=node20', '--log-level=error'];
  return (await promisify(execFile)(esbuild, [entry, ...options], { maxBuffer: 1 << 26 })).stdout;
}
let program: Promise<string> | undefined;

/** What a render thread starts with. */
export interface WorkerSetup {
  scene: Scene;
  bvh: Bvh;
  settings: RenderSettings;
}

export interface RenderControl {
  /** Called after each rectangle with the share that is done. */
  onProgress?: (done: number) => void;
  signal?: AbortSignal;
  /** Threads; all cores by default. */
  threads?: number;
}

/**
 * Renders a whole picture on several threads. The result is the same for any number of them.
 * Rejects with the signal's reason when cancelled.
 */
export async function renderScene(
  scene: Scene,
  settings: RenderSettings,
  control: RenderControl = {},
): Promise<Film> {
  const fault = settingsFault(settings);
  if (fault) throw new Error(fault);
  const script = await (program ??= threadProgram());
  const bvh = buildBvh(scene.positions, scene.indices);
  const film = new Film(settings);
  const tiles = renderTiles(settings.width, settings.height);
  const threads = Math.max(1, Math.min(control.threads ?? availableParallelism(), tiles.length));
  const setup: WorkerSetup = { scene, bvh, settings };
  const workers: Worker[] = [];
  let next = 0;
  let done = 0;
  try {
    await new Promise<void>((resolve, reject) => {
      const stop = () => reject(control.signal!.reason as Error);
      if (control.signal?.aborted) return stop();
      control.signal?.addEventListener('abort', stop, { once: true });
      for (let i = 0; i < threads; i++) {
        const worker = new Worker(script, { eval: true, workerData: setup });
        workers.push(worker);
        worker.on('error', reject);
        worker.on('exit', () => reject(new Error('A render thread ended before its work was done.')));
        worker.on('message', (tile: TileResult) => {
          film.add(tile);
          control.onProgress?.(++done / tiles.length);
          if (done === tiles.length) resolve();
          else if (next < tiles.length) worker.postMessage(tiles[next++]);
        });
        worker.postMessage(tiles[next++]);
      }
    });
  } finally {
    await Promise.all(workers.map((w) => w.terminate()));
  }
  return film;
}
