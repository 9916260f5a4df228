import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { alone } from '../src/crew/alone.ts';
import { crewOf, type HandPort } from '../src/crew/hands.ts';
import type { Crew } from '../src/crew/work.ts';

const PROGRAM = fileURLToPath(new URL('../../core/node/generated/crew-worker.cjs', import.meta.url));

/** A hand in a thread of its own, which keeps no process from ending. */
function hand(): HandPort & { end(): Promise<unknown> } {
  const worker = new Worker(PROGRAM);
  worker.unref();
  // What is asked of it is waited for, all the same.
  const waiting = { count: 0 };
  worker.on('message', () => {
    if (--waiting.count === 0) worker.unref();
  });
  return {
    post(message) {
      if (waiting.count++ === 0) worker.ref();
      worker.postMessage(message);
    },
    listen: (on) => void worker.on('message', on),
    ended: (on) => void worker.on('exit', on).on('error', on),
    end: () => worker.terminate(),
  };
}

/** A crew of threads of this process, all cores by default, and a way to let them go. */
export function nodeCrew(threads = availableParallelism()): { crew: Crew; end(): Promise<void> } {
  const hands = Array.from({ length: Math.max(0, threads - 1) }, hand);
  return {
    crew: hands.length ? crewOf(hands) : alone,
    end: async () => void (await Promise.all(hands.map((h) => h.end()))),
  };
}
