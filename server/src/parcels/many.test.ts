import { execFileSync } from 'node:child_process';
import { createWriteStream, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { writeExr } from '@zesty-crow/core/formats/exr';
import { fileOf } from '../../../core/test/fixtures/frames.ts';
import { scaled } from '../../../core/test/runs.ts';
import type { Application } from '../../../e2e/harness/application.ts';
import { startEmpty } from '../../../e2e/harness/database.ts';
import { addWorker, memoryOf, processesOf } from '../../../e2e/harness/processes.ts';
import { callsOf, until, type Json } from '../../test/calls.ts';
import type { ParcelRun, ParcelRunFile } from '../contract.ts';

/** Many frames by one worker and by two, and a large archive. Twenty-five times as many of both in a campaign: 500 frames, more than 2 GB. */
const data = mkdtempSync(join(tmpdir(), 'zesty-crow-many-'));
let application: Application;
const { call } = callsOf(() => application);
beforeAll(async () => {
  application = await startEmpty();
}, 200_000);
afterAll(() => application.stop());

/** A shot with a version of so many frames, read, and one parcel. */
async function shotOf(name: string, frames: number, bytes: (n: number) => Uint8Array, settings: object) {
  const shot = (await call('POST', '/shots', { name })).body['id'] as string;
  const version = (await call('POST', `/shots/${shot}/versions`)).body['id'] as string;
  for (let n = 1; n <= frames; n++)
    await call('PUT', `/versions/${version}/files/f.${String(n).padStart(4, '0')}.exr?frame=${n}`, bytes(n));
  await call('POST', `/versions/${version}/read`);
  await until(async () => {
    const { versions } = (await call('GET', `/shots/${shot}`)).body as { versions: Json[] };
    return versions[0]!['state'] === 'ready' || undefined;
  }, 600);
  const { revision } = (await call('GET', `/shots/${shot}/parcels`)).body;
  const parcel = {
    ...{ id: 'p', kind: 'picture', title: 'All', frames: '', variants: [''], settings, folder: '' },
    name: 'f.{frame}',
  };
  const body = { format: 'zesty-crow/parcels', version: 1, parcels: [parcel] };
  await call('PUT', `/shots/${shot}/parcels`, { revision, label: 'Test', body });
  return { shot, version };
}
async function make(version: string): Promise<ParcelRun & { made: ParcelRunFile[] }> {
  const { run } = (await call('POST', `/versions/${version}/parcels`, {})).body as { run: string };
  const ended = await until(async () => {
    const all = (await call('GET', `/versions/${version}/parcels/runs`)).body as unknown as ParcelRun[];
    return all.find((r) => r.id === run && r.ended);
  }, 3600);
  return { ...ended, made: (await call('GET', `/runs/${run}/files`)).body as unknown as ParcelRunFile[] };
}
/** Whether any two jobs of a shot were done at the same time. */
async function together(shot: string, since: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: application.database });
  await client.connect();
  const { rows } = await client.query<{ n: number }>(
    `select count(*)::int as n from job a, job b where a.shot_id = $1 and b.shot_id = $1 and a.id < b.id
       and a.kind = 'parcel' and b.kind = 'parcel' and a.created >= $2 and b.created >= $2
       and a.started < b.ended and b.started < a.ended`,
    [shot, since],
  );
  await client.end();
  return rows[0]!.n > 0;
}

test('many frames are each made once, by one worker and by two, and are the same files', async () => {
  const count = scaled(20);
  const size = { width: 96, height: 54 };
  const light = (n: number) => (p: number) => ((p + 7 * n) % 9973) / 9973;
  const frameOf = (n: number) => fileOf({ R: light(n), G: light(n + 1), B: light(2 * n) }, size);
  const { shot, version } = await shotOf('Flight', count, frameOf, { format: 'png16' });
  const one = await make(version);
  expect([one.files, one.reused, one.failed]).toEqual([count, 0, []]);
  expect(new Set(one.made.map((f) => f.sha256)).size).toBe(count);
  expect(await together(shot, one.created)).toBe(false);
  await call('DELETE', `/runs/${one.id}`);
  const second = await addWorker(application);
  const two = await make(version);
  second.kill('SIGTERM');
  await new Promise((resolve) => second.once('exit', resolve));
  expect([two.files, two.reused, two.failed]).toEqual([count, 0, []]);
  expect(await together(shot, two.created)).toBe(true);
  expect(two.made.map((f) => [f.name, f.sha256])).toEqual(one.made.map((f) => [f.name, f.sha256]));
}, 3_600_000);

test('a large archive is streamed: the server takes no more memory for it', async () => {
  const count = scaled(4);
  const box = { xMin: 0, yMin: 0, xMax: 1919, yMax: 1079 };
  const channel = (name: string) => ({
    ...{ name, type: 'float' as const, xSampling: 1, ySampling: 1, pLinear: false },
    data: Float32Array.from({ length: 1920 * 1080 }, (_, p) => (p % 255) / 255),
  });
  const bytes = writeExr(
    { dataWindow: box, displayWindow: box, channels: ['B', 'G', 'R'].map(channel) },
    { compression: 'none' },
  );
  const { version } = await shotOf('Large', count, () => bytes, {});
  const run = await make(version);
  expect(run.size).toBeGreaterThan(24e6 * count);
  const pid = processesOf(application.data, 'server/generated/main.mjs')[0]!;
  const before = memoryOf(pid);
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(pid))), 20);
  const path = join(data, 'archive.zip');
  const response = await fetch(`${application.address}/api/runs/${run.id}/archive`);
  await pipeline(Readable.fromWeb(response.body as never), createWriteStream(path));
  clearInterval(watch);
  expect((most - before) / 2 ** 20).toBeLessThan(100);
  const told = execFileSync('unzip', ['-t', path], { encoding: 'utf8', maxBuffer: 2 ** 24 });
  expect(told).toMatch(/No errors detected/);
  expect(told.match(/f\.\d{4}\.exr\s+OK/g)).toHaveLength(count);
}, 3_600_000);
