import { fileURLToPath } from 'node:url';
import type { JobRow } from './jobs.ts';
import { Lane, type LaneEnd } from './lane.ts';

const program = fileURLToPath(new URL('../../test/lane-program.mjs', import.meta.url));
const MEMORY = 400 * 2 ** 20;
let lane: Lane;
let told: string[] = [];

beforeAll(() => {
  lane = new Lane({ program, lane: 'short', memory: MEMORY, onError: () => undefined });
});
afterAll(() => lane.stop());
beforeEach(() => (told = []));

let number = 0;
const run = (
  kind: string,
  more: { n?: number; minutes?: number; signal?: AbortSignal } = {},
): Promise<LaneEnd> =>
  lane.run(
    { id: `job ${number++}`, kind, input: { n: more.n ?? 0 }, keep: false } as unknown as JobRow,
    more.minutes ?? 1,
    more.signal ?? new AbortController().signal,
    {
      progress: (done, message) => told.push(`${done} ${message}`),
      look: (png) => told.push(`look of ${png.length}`),
      publish: (details) => told.push(`published ${JSON.stringify(details)}`),
    },
  );
/** The process that follows a bad job does the next one. */
const goesOn = async () =>
  expect(await run('good', { n: 4 })).toMatchObject({ end: 'done', details: { twice: 8 } });

test('jobs are done one after another by one process', async () => {
  expect(await run('good', { n: 21 })).toEqual({ end: 'done', message: 'Done', details: { twice: 42 } });
  await goesOn();
});

test('what a job tells on its way is heard, and why it failed', async () => {
  expect(await run('tells')).toEqual({ end: 'failed', message: 'It cannot be done.' });
  expect(told).toEqual(['0.5 half', 'look of 3']);
  await goesOn();
});

test('a crash is told as one, and another process goes on', async () => {
  expect(await run('crashes')).toMatchObject({ end: 'lost', message: expect.stringContaining('code 3') });
  await goesOn();
});

test('one that takes more memory than it may have is ended and says so', async () => {
  expect(await run('grows')).toMatchObject({
    end: 'failed',
    message: expect.stringContaining('more memory than it may have (0.4 GB)'),
  });
  await goesOn();
});

test('one that takes longer than it may is ended, even if it blocks', async () => {
  expect(await run('blocks', { minutes: 0.01 })).toMatchObject({
    end: 'failed',
    message: expect.stringContaining('was not done after'),
  });
  await goesOn();
});

test('cancelling asks first', async () => {
  const abort = new AbortController();
  const over = run('waits', { signal: abort.signal });
  setTimeout(() => abort.abort(), 300);
  expect(await over).toEqual({ end: 'cancelled' });
  // The same process: it had answered.
  await goesOn();
});

test('one that does not answer when it is cancelled is ended', async () => {
  const abort = new AbortController();
  const over = run('blocks', { signal: abort.signal });
  setTimeout(() => abort.abort(), 300);
  expect(await over).toEqual({ end: 'cancelled' });
  await goesOn();
});

test('one that was cancelled before its turn is never begun', async () => {
  const abort = new AbortController();
  abort.abort();
  expect(await run('crashes', { signal: abort.signal })).toEqual({ end: 'cancelled' });
  await goesOn();
});
