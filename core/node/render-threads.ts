import { execFile } from 'node:child_process';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { Worker } from 'node:worker_threads';
import type { Area } from '../src/planes/area.ts';
import type { Prepared } from '../src/render/prepared.ts';
import type { RenderSettings } from '../src/render/settings.ts';
import type { TileSums } from '../src/render/tile.ts';

/** What a render thread is told: what to render from now on, nothing any more, or a piece of work. */
export type ThreadOrder = { prepared: Prepared; settings: RenderSettings } | { rest: true } | TileOrder;

/** One piece of work of a thread: a rectangle, begun or not, and how many samples a pixel it shall have. */
export interface TileOrder {
  number: number;
  area: Area;
  sums: TileSums | undefined;
  upTo: number;
}

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

/** Threads that rest until the next frame: their code is compiled by then, which the first frame has to wait for. */
const resting: Worker[] = [];

/** Takes our listeners off; the worker has some of its own, without which it hears nothing any more. */
function forget(worker: Worker): void {
  for (const event of ['message', 'error', 'exit']) worker.removeAllListeners(event);
}

/** Threads that are ready for a frame. They end with the process, however it ends. */
export async function takeThreads(count: number, order: ThreadOrder): Promise<Worker[]> {
  const script = await (program ??= threadProgram());
  return Array.from({ length: count }, () => {
    const worker = resting.pop() ?? new Worker(script, { eval: true });
    // What is told of a thread at rest is not meant for one at work.
    forget(worker);
    worker.ref();
    worker.postMessage(order);
    return worker;
  });
}

/** Lets threads rest that have nothing to do any more. */
export function restThreads(threads: readonly Worker[]): void {
  for (const worker of threads) {
    forget(worker);
    worker.postMessage({ rest: true } satisfies ThreadOrder);
    worker.once('exit', () => resting.splice(resting.indexOf(worker), 1));
    worker.unref();
    resting.push(worker);
  }
}

/** Ends threads in the middle of their work. */
export async function endThreads(threads: readonly Worker[]): Promise<void> {
  threads.forEach(forget);
  await Promise.all(threads.map((worker) => worker.terminate()));
}
