import { createPinia, setActivePinia } from 'pinia';
import { FakeServer } from '../../test/fake-server.ts';
import type { Job } from '@zesty-crow/server/contract';
import { useJobs } from './jobs.ts';

const job = (id: string, state: Job['state'], more: Partial<Job> = {}): Job => ({
  id,
  kind: 'render',
  shot_id: 'shot',
  version_id: 'v',
  state,
  progress: 0,
  message: '',
  result: null,
  frame: 1,
  look: 0,
  keep: false,
  snapshot: 0,
  attention: null,
  created: '',
  started: null,
  ended: null,
  ...more,
});

test('jobs follow what the server tells: new ones, changes, and those that are gone', async () => {
  const server = new FakeServer();
  server.jobs = [job('a', 'running'), job('b', 'waiting'), job('c', 'done')];
  setActivePinia(createPinia());
  const jobs = useJobs();
  server.tell('open');
  await new Promise((resolve) => setTimeout(resolve, 5));
  const underWay = () => jobs.underWay.map((j) => j.id);
  expect(underWay()).toEqual(['a', 'b']);
  server.tell('job', job('a', 'running', { progress: 0.5, message: 'half' }));
  expect(jobs.jobs.find((j) => j.id === 'a')).toMatchObject({ progress: 0.5, message: 'half' });
  server.tell('job', job('d', 'waiting'));
  expect(underWay()).toEqual(['d', 'a', 'b']);
  server.tell('job', job('a', 'failed'));
  // Deleted with its version.
  server.tell('job-gone', { id: 'b' });
  expect(underWay()).toEqual(['d']);
  expect(jobs.jobs.some((j) => j.id === 'b')).toBe(false);
  await jobs.cancel('d');
  expect(server.calls).toContain('POST /api/jobs/d/cancel');
});
