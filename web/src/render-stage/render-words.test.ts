import { DEFAULT_RENDER } from '@zesty-crow/core';
import type { Render, RenderJob } from '@zesty-crow/server/contract';
import { additionInWords, costInWords, latestJobs, outcomeInWords, stateInWords } from './render-words.ts';

const measured = (seconds: number, more: object = {}) =>
  ({ seconds, bytes: 2 * 1024 ** 2, samples: 95.6, ...more }) as unknown as Render['measured'][number];
const render = (more: object) =>
  ({ number: 3, state: 'ready', jobs: [], measured: [], ...more }) as unknown as Render;
const jobs = (...states: RenderJob['state'][]) =>
  states.map((state, i) => ({ state, frame: i + 1, part: null }) as RenderJob);

test('what a version has cost is told for a frame, and not before one is done', () => {
  expect(costInWords(render({}))).toBe('');
  expect(costInWords(render({ measured: [measured(20)] }))).toBe('v3: 20 s, 2.0 MB, 96 samples a pixel');
  expect(costInWords(render({ measured: [measured(20), measured(40)] }))).toBe(
    'v3: 30 s, 2.0 MB, 96 samples a pixel, a frame',
  );
  expect(costInWords(render({ measured: [measured(20, { idsOnly: true, partial: true })] }))).toBe(
    'The ID passes of v3: 20 s, 2.0 MB',
  );
});

test('how far it is: frames of a sequence, a still, what failed, and nothing where it is done', () => {
  expect(stateInWords(render({ jobs: jobs('done', 'running', 'waiting') }))).toBe('1 of 3 frames');
  expect(stateInWords(render({ jobs: jobs('running') }))).toBe('rendering');
  expect(stateInWords(render({ jobs: jobs('failed'), state: 'failed' }))).toBe('failed');
  expect(stateInWords(render({ jobs: jobs('done') }))).toBe('');
});

test('what tells how a render stands is the last job of each frame, or the parts of a still until all are done', () => {
  const job = (id: string, state: RenderJob['state'], part: number | null = null, frame = 1) =>
    ({ id, state, part, frame }) as RenderJob;
  const ids = (list: RenderJob[]) => latestJobs(list).map((j) => j.id);
  // Samples were added.
  expect(ids([job('first', 'done'), job('more', 'running')])).toEqual(['more']);
  expect(ids([job('a', 'running', 1), job('b', 'waiting', 2)])).toEqual(['a', 'b']);
  expect(ids([job('a', 'done', 1), job('b', 'done', 2), job('all', 'running')])).toEqual(['all']);
  // Passes that join a version, in parts.
  expect(ids([job('whole', 'done'), job('a', 'done', 1), job('b', 'failed', 2)])).toEqual(['a', 'b']);
  expect(stateInWords({ state: 'rendering', jobs: [job('a', 'running', 1), job('b', 'done', 2)] })).toBe(
    'rendering',
  );
});

test('the button says what one gets: what was asked for, and what follows from it', () => {
  const plan = { ...DEFAULT_RENDER, samples: 64, noise: 0.04, minutes: 5 };
  const cost = { seconds: 90, noise: 0.068, frames: 1 };
  expect(outcomeInWords({ ...plan, doneWhen: 'time' }, cost)).toBe('5 min, about 6.8 % noise');
  expect(outcomeInWords({ ...plan, doneWhen: 'samples' }, cost)).toBe('64 samples, about 90 s');
  expect(outcomeInWords({ ...plan, doneWhen: 'clean' }, { ...cost, noise: 0.04 })).toBe(
    '4.0 % noise, about 90 s',
  );
  const four = { ...cost, frames: 4 };
  expect(outcomeInWords({ ...plan, doneWhen: 'time' }, four)).toBe('5 min a frame, about 6.8 % noise');
  expect(outcomeInWords({ ...plan, doneWhen: 'samples' }, four)).toBe('64 samples, about 6 min');
  // With so many samples it will not be so clean.
  expect(outcomeInWords({ ...plan, doneWhen: 'clean' }, { ...cost, noise: 0.12 })).toBe(
    '12 % noise, about 90 s',
  );
  expect(additionInWords({ ...plan, doneWhen: 'time' })).toBe('Add samples for 5 min');
  expect(additionInWords({ ...plan, doneWhen: 'clean' })).toBe('Add samples up to 4.0 % noise');
});
