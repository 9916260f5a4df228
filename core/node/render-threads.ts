import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { Area } from '../src/planes/area.ts';
import type { Prepared } from '../src/render/waves/prepared.ts';
import type { RenderSettings } from '../src/render/settings.ts';
import type { TileSums } from '../src/render/tile-sums.ts';
import type { Turn } from '../src/render/turns.ts';

/** What a render thread is told: what to render from now on, nothing any more, or a piece of work. */
export type ThreadOrder =
  | { prepared: Prepared; settings: RenderSettings; lane: number }
  | { rest: true }
  | TileOrder;

/** One piece of work of a thread, with what there is of its rectangle. */
export interface TileOrder extends Turn {
  area: Area;
  sums: TileSums | undefined;
}

/** What a thread says when it is done with a piece of work: the sums, and how many samples were taken. */
export interface TileDone {
  turn: Turn;
  tile: TileSums;
  taken: number;
}

/**
 * The thread's program, bundled beforehand by `npm run bundles`, which start, test and build run by themselves. The
 * path is from the house's root, two folders up, which is right in a bundled program (cli/generated/), too.
 */
const PROGRAM = fileURLToPath(new URL('../../core/node/generated/render-worker.cjs', import.meta.url));

/** Threads that rest until the next frame: their code is compiled by then, which the first frame has to wait for. */
const resting: Worker[] = [];

/** Takes our listeners off; the worker has some of its own, without which it hears nothing any more. */
function forget(worker: Worker): void {
  for (const event of ['message', 'error', 'exit']) worker.removeAllListeners(event);
}

/** Threads that are ready for a frame, each in its own lane. They end with the process, however it ends. */
export function takeThreads(
  count: number,
  frame: { prepared: Prepared; settings: RenderSettings },
): Worker[] {
  return Array.from({ length: count }, (_, lane) => {
    const worker = resting.pop() ?? new Worker(PROGRAM);
    // What is told of a thread at rest is not meant for one at work.
    forget(worker);
    worker.ref();
    worker.postMessage({ ...frame, lane } satisfies ThreadOrder);
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
