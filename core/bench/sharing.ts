/** What two threads of one process, and two processes of one thread, gain over one: against what a plain loop gains. */
import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { DEFAULT_SETTINGS, readGlb } from '../src/index.ts';
import { renderScene } from '../node/render-pool.ts';
import { controlGain } from './control.ts';
import type { RenderOrder } from './one-render.ts';
import type { Tell } from './report.ts';

const PROGRAM = fileURLToPath(new URL('one-render.ts', import.meta.url));

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;

function ask(child: ChildProcess, order: RenderOrder): Promise<unknown> {
  return new Promise((resolve, reject) => {
    child.once('message', resolve);
    child.once('exit', () => reject(new Error('A process that rendered ended before it was done.')));
    child.send(order);
  });
}

/** @param rounds of the plain loop; @param runs of all, of which the median counts */
export async function sharingFigures(
  tell: Tell,
  glb: Uint8Array,
  size: { width: number; height: number; samples: number },
  rounds?: number,
  runs = 3,
): Promise<void> {
  const scene = await readGlb(glb);
  const control: number[] = [];
  const threads: number[] = [];
  const processes: number[] = [];
  const children = [0, 1].map(() =>
    fork(PROGRAM, { execArgv: ['--import', 'tsx'], serialization: 'advanced', stdio: 'inherit' }),
  );
  try {
    await Promise.all(children.map((child) => ask(child, { glb })));
    // All is compiled once before it counts.
    await renderScene(scene, { ...DEFAULT_SETTINGS, ...size, samples: 1 }, { threads: 2 });
    await Promise.all(children.map((child) => ask(child, { ...size, samples: 1 })));
    for (let run = 0; run < runs; run++) {
      control.push(await controlGain(2, rounds));
      const spent: number[] = [];
      for (const n of [1, 2]) {
        const begun = performance.now();
        await renderScene(scene, { ...DEFAULT_SETTINGS, ...size }, { threads: n });
        spent.push(performance.now() - begun);
      }
      threads.push(spent[0]! / spent[1]!);
      const alone = (await ask(children[0]!, size)) as number;
      const both = (await Promise.all(children.map((child) => ask(child, size)))) as number[];
      processes.push((2 * alone) / Math.max(...both));
    }
  } finally {
    for (const child of children) {
      child.removeAllListeners('exit');
      child.kill();
    }
  }
  const most = median(control);
  const figure = (name: string, gain: number, goal: number) =>
    tell({
      name,
      value: gain / most,
      unit: 'x the gain',
      goal,
      better: 'more',
      against: `a plain loop, which gains ${most.toFixed(2)}; rendering ${gain.toFixed(2)}`,
    });
  figure('two threads', median(threads), 0.9);
  figure('two processes of one thread', median(processes), 0.85);
}
