import { Worker } from 'node:worker_threads';

const LOOP = `
const { parentPort } = require('node:worker_threads');
parentPort.on('message', (rounds) => {
  let x = 1;
  for (let i = 0; i < rounds; i++) x = (x * 1.0000001 + i) % 1e6;
  parentPort.postMessage(x);
});`;

/**
 * What so many threads gain at a plain loop of arithmetic on this machine just now: the most that sharing work can gain.
 */
export async function controlGain(threads: number, rounds = 4e7): Promise<number> {
  const workers = Array.from({ length: threads }, () => new Worker(LOOP, { eval: true }));
  const run = (worker: Worker, n: number) =>
    new Promise<void>((resolve) => {
      worker.once('message', () => resolve());
      worker.postMessage(n);
    });
  const all = (n: number, count: number) => Promise.all(workers.slice(0, count).map((w) => run(w, n)));
  await all(rounds / 10, threads);
  const gains: number[] = [];
  for (let i = 0; i < 3; i++) {
    let start = performance.now();
    await all(rounds, 1);
    const one = performance.now() - start;
    start = performance.now();
    await all(rounds / threads, threads);
    gains.push(one / (performance.now() - start));
  }
  await Promise.all(workers.map((w) => w.terminate()));
  return gains.sort((a, b) => a - b)[1]!;
}
