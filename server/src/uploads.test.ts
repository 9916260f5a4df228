import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { request, type ClientRequest } from 'node:http';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { callsOf, until, type Json } from '../test/calls.ts';
import type { Application } from '../../e2e/harness/application.ts';
import { startEmpty } from '../../e2e/harness/database.ts';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { openPool, type Pool } from './database/pool.ts';
import { eventRoutes } from './events/routes.ts';
import type { Services } from './services.ts';
import { purgeUploads } from './shots/shots.ts';

/** What arrives, slowly, twice at once, or never; who listens; and numbers that nobody would type. */
const delivery = realpathSync(mkdtempSync(join(tmpdir(), 'zesty-crow-pipes-')));
let application: Application;
let pool: Pool;
beforeAll(async () => {
  application = await startEmpty({ ZESTY_CROW_FOLDERS: delivery });
  pool = openPool(application.database, () => undefined);
});
afterAll(async () => {
  await pool?.end();
  await application?.stop();
  rmSync(delivery, { recursive: true, force: true });
});

const { call, ended } = callsOf(() => application);
const bytes = new Uint8Array(readFileSync(samplePath('all.exr')));
async function newVersion(): Promise<string> {
  const shot = (await call('POST', '/shots', { name: 'Arriving' })).body;
  return (await call('POST', `/shots/${shot['id']}/versions`)).body['id'] as string;
}
/** As if the version, and all that is in it, had been there for a day. */
const age = (version: string) =>
  pool.query(
    `update version set created = now() - interval '1 day', heard = now() - interval '1 day' where id = $1`,
    [version],
  );
const isThere = async (version: string) =>
  (await pool.query('select 1 from version where id = $1', [version])).rowCount === 1;
/** An upload of which the second half is sent when it is let go. */
function slowly(path: string): { upload: ClientRequest; status: Promise<number> } {
  const { hostname, port } = new URL(application.address);
  const upload = request({
    ...{ hostname, port, path: `/api${path}`, method: 'PUT' },
    headers: { 'content-length': bytes.length },
  });
  const status = new Promise<number>((resolve, reject) => {
    upload.on('response', (answer) => (answer.resume(), resolve(answer.statusCode!)));
    upload.on('error', reject);
  });
  upload.write(bytes.subarray(0, bytes.length >> 1));
  return { upload, status };
}
/** A version as if of yesterday, of which a file is half there. */
async function agedWhileItArrives(version: string) {
  const arriving = slowly(`/versions/${version}/files/all.exr`);
  await until(async () =>
    (await pool.query(`select 1 from pg_locks where relation = 'file'::regclass`)).rowCount
      ? true
      : undefined,
  );
  await age(version);
  return arriving;
}
const files = async (version: string) =>
  (
    await pool.query<{ live: boolean; size: number }>(
      'select retired is null as live, size from file where version_id = $1',
      [version],
    )
  ).rows;

describe('a version that was never finished', () => {
  test('is given up two hours after the last byte', async () => {
    const [old, fresh] = [await newVersion(), await newVersion()];
    await age(old);
    await purgeUploads(pool);
    expect([await isThere(old), await isThere(fresh)]).toEqual([false, true]);
  });

  test('stays while its first file arrives, and two hours from then on', async () => {
    const version = await newVersion();
    const { upload, status } = await agedWhileItArrives(version);
    await purgeUploads(pool);
    expect(await isThere(version)).toBe(true);
    upload.end(bytes.subarray(bytes.length >> 1));
    expect(await status).toBe(201);
    await purgeUploads(pool);
    expect(await files(version)).toEqual([{ live: true, size: bytes.length }]);
  });

  test('stays for two hours after an upload broke off', async () => {
    const version = await newVersion();
    const { upload, status } = await agedWhileItArrives(version);
    upload.destroy();
    await expect(status).rejects.toThrow();
    await until(async () =>
      (
        await pool.query(`select 1 from version where id = $1 and heard > now() - interval '1 minute'`, [
          version,
        ])
      ).rowCount
        ? true
        : undefined,
    );
    await purgeUploads(pool);
    expect(await isThere(version)).toBe(true);
  });
});

test('six uploads of one name at once leave one live file', async () => {
  for (const query of ['', '?frame=4']) {
    const version = await newVersion();
    const all = Array.from({ length: 6 }, () => slowly(`/versions/${version}/files/all.exr${query}`));
    for (const { upload } of all) upload.end(bytes.subarray(bytes.length >> 1));
    expect(await Promise.all(all.map((a) => a.status))).toEqual([201, 201, 201, 201, 201, 201]);
    const stored = await files(version);
    expect([stored.length, stored.filter((f) => f.live).length]).toEqual([6, 1]);
  }
});

test('of a folder only files are taken: a pipe in it holds nothing up', async () => {
  mkdirSync(join(delivery, 'folder.exr'), { recursive: true });
  spawnSync('mkfifo', [join(delivery, 'pipe.exr')]);
  writeFileSync(join(delivery, 'hive.exr'), bytes);
  for (const [path, words] of [
    ['pipe.exr', 'pipe.exr is a folder, a pipe or a device'],
    ['folder.exr', 'folder.exr is a folder, a pipe or a device'],
    [`${'x'.repeat(300)}.exr`, 'is not there, or not inside a folder'],
  ]) {
    const version = await newVersion();
    const body = { folder: delivery, files: [{ path, frame: null }] };
    const job = (await call('POST', `/versions/${version}/take`, body)).body;
    const over = await ended(job['id'] as string);
    expect([over['state'], over['message']]).toEqual(['failed', expect.stringContaining(words!)]);
    expect(over['message']).not.toMatch(/E[A-Z]{4,}/);
  }
});

describe('who listens', () => {
  test('is nobody who only asks for the head', async () => {
    let listening = 0;
    const events = { subscribe: () => (listening++, () => listening--) };
    const routes = eventRoutes({ events } as unknown as Services);
    const head = await routes.request('/', { method: 'HEAD' });
    expect([head.status, head.headers.get('content-type'), listening]).toEqual([200, 'text/event-stream', 0]);
    const stop = new AbortController();
    const stream = await routes.request('/', { signal: stop.signal });
    await stream.body!.getReader().read();
    expect(listening).toBe(1);
  });

  test('and does not read is let go, and is welcome again', async () => {
    const { hostname, port, host } = new URL(application.address);
    const socket = connect(Number(port), hostname);
    socket.pause();
    socket.write(`GET /api/events HTTP/1.1\r\nHost: ${host}\r\n\r\n`);
    await new Promise((resolve) => setTimeout(resolve, 300));
    const other = new pg.Client({ connectionString: application.database });
    await other.connect();
    // Far more than the buffers of a connection hold.
    for (let i = 0; i < 10; i++)
      await other.query(
        `select pg_notify('zesty_crow_shot', n || repeat('x', 7000)) from generate_series($1::int, $1::int + 499) n`,
        [1000 * i],
      );
    await other.end();
    const closed = new Promise<string>((resolve) =>
      socket.on('close', () => resolve('closed')).on('error', () => 0),
    );
    const late = new Promise<string>((resolve) => setTimeout(resolve, 8000, 'still open').unref());
    await new Promise((resolve) => setTimeout(resolve, 1000));
    socket.resume();
    expect(await Promise.race([closed, late])).toBe('closed');
    const again = await fetch(`${application.address}/api/events`);
    const { value } = await again.body!.getReader().read();
    expect(new TextDecoder().decode(value)).toContain('event: beat');
  });
});

describe('numbers and ids that nobody would type', () => {
  const HYPHENS = '-'.repeat(36);
  let shot: Json;
  let version: string;
  beforeAll(async () => {
    shot = (await call('POST', '/shots', { name: 'Numbers' })).body;
    version = (await call('POST', `/shots/${shot['id']}/versions`)).body['id'] as string;
  });
  test.each<[string, string, object?]>([
    ['GET', '/versions/VERSION/index?layer=x&frame=99999999999999'],
    ['GET', '/versions/VERSION/index?layer=x&frame=-1'],
    ['GET', '/versions/VERSION/index?layer=x&frame=1e300'],
    ['GET', '/shots/SHOT/changes/steps?before=1e300'],
    ['GET', '/shots/SHOT/changes/steps?before=2147483648'],
    ['GET', '/shots/SHOT/plan/steps?before='],
    ['POST', '/versions/VERSION/swap', { retire: [HYPHENS], restore: [] }],
    ['POST', '/shots/SHOT/changes/undo', { revision: 1e300 }],
    ['POST', '/shots/SHOT/changes/go', { revision: 0, step: 1e12 }],
    ['POST', '/files/known', { files: [{ size: 1e300 }] }],
    ['GET', `/files/${HYPHENS}`],
    ['GET', `/runs/${HYPHENS}/archive`],
    ['GET', `/shots/${HYPHENS}`],
    ['DELETE', `/versions/${HYPHENS}`],
    ['PUT', '/versions/VERSION/files/a.exr?frame=99999999', {}],
  ])('%s %s is refused', async (...[method, path, body]) => {
    const answer = await call(
      method,
      path.replace('SHOT', shot['id'] as string).replace('VERSION', version),
      body,
    );
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.status).toBeLessThan(500);
    expect(answer.body['title']).toEqual(expect.any(String));
  });
});
