import type { Render, RenderJob } from '@zesty-crow/server/contract';
import { costInWords, stateInWords } from './render-words.ts';

const measured = (seconds: number, more: object = {}) =>
  ({ seconds, bytes: 2 * 1024 ** 2, samples: 95.6, ...more }) as unknown as Render['measured'][number];
const render = (more: object) =>
  ({ number: 3, state: 'ready', jobs: [], measured: [], ...more }) as unknown as Render;
const jobs = (...states: RenderJob['state'][]) => states.map((state) => ({ state }) as RenderJob);

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
