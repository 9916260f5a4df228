/** npm run bench:workers: a sequence by one worker and by two, each with one thread, turn and turn about. */
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beeFlightPlan } from '../../demo/plans/plans.ts';
import { apiOf, sceneShot } from '../../e2e/harness/api.ts';
import { startWhole } from '../../e2e/harness/application.ts';
import { addWorker } from '../../e2e/harness/processes.ts';

const FRAMES = 10;
const SAMPLES = 24;
const TURNS = 2;
const data = mkdtempSync(join(tmpdir(), 'zesty-crow-workers-'));
const env = { RENDER_THREADS: '1', SEED_DEMO: '0' };
const application = await startWhole(data, env);

const call = apiOf(application);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

interface Listed {
  versionId: string;
  state: string;
  measured: unknown[];
}
/** Seconds from the order to the finished version. */
async function renderAll(shot: string): Promise<number> {
  const started = performance.now();
  const { versionId } = await call<Listed>('POST', `/shots/${shot}/renders`, { request: { what: 'all' } });
  for (;;) {
    await pause(500);
    const found = (await call<Listed[]>('GET', `/shots/${shot}/renders`)).find(
      (r) => r.versionId === versionId,
    );
    if (found?.state === 'failed') throw new Error('The render failed.');
    if (found?.state === 'ready' && found.measured.length === FRAMES)
      return (performance.now() - started) / 1000;
  }
}

/** A shot of the bee's flight in small. */
function flight(samples: number): Promise<string> {
  const scene = readFileSync(new URL('../../demo/files/bee_flight.glb', import.meta.url));
  const plan = beeFlightPlan(FRAMES);
  Object.assign(plan.render, { width: 240, height: 136, samples });
  return sceneShot(call, `Flight ${samples}`, new Uint8Array(scene), plan);
}

try {
  const short = await flight(1);
  const long = await flight(SAMPLES);
  await renderAll(short);
  let [one, two] = [0, 0];
  for (let turn = 0; turn < TURNS; turn++) {
    one += await renderAll(long);
    const second = await addWorker(application, env);
    // Programs that have just started are slow at first.
    await renderAll(short);
    two += await renderAll(long);
    second.kill('SIGTERM');
    await new Promise((resolve) => second.once('exit', resolve));
    console.log(`after turn ${turn + 1}: one worker ${one.toFixed(1)} s, two ${two.toFixed(1)} s`);
  }
  console.log(`${FRAMES} frames by two workers against one: ${(one / two).toFixed(2)} times as fast`);
} finally {
  await application.stop();
}
