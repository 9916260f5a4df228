import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { deflateSync } from 'node:zlib';
import pg from 'pg';
import { reviveJobs } from './queue/jobs.ts';
import { callsOf, until, type Json } from '../test/calls.ts';
import { openFolder, startWhole, type Application } from '../../e2e/harness/application.ts';
import { processesOf } from '../../e2e/harness/processes.ts';
import { scaled } from '../../core/test/runs.ts';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { writeExr } from '@zesty-crow/core/formats/exr';
import { emptyPlan } from '@zesty-crow/core/plan';

/** What goes wrong around the application: nothing of it may lose work or stop it. */
const HOUSE = fileURLToPath(new URL('../..', import.meta.url));
const data = openFolder('faults');
let application: Application;

beforeAll(async () => {
  application = await startWhole(data, {
    SEED_DEMO: '0',
    TRANSFER_IDLE_SECONDS: '3',
    PICTURE_MEMORY_MB: '1600',
    JOB_MEMORY_MB: '6000',
    // No disk has so much room: it counts as filling.
    DISK_LOW_MB: '9000000',
  });
});
afterAll(async () => {
  await application?.stop();
  rmSync(data, { recursive: true, force: true });
});

const { call, jobOf, ended } = callsOf(() => application);
const sampleBytes = (name: string) => new Uint8Array(readFileSync(samplePath(name)));
async function newVersion(name: string, files: [string, Uint8Array][]) {
  const shot = (await call('POST', '/shots', { name })).body;
  const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
  const stored: Json[] = [];
  for (const [file, bytes] of files)
    stored.push(
      (await call('PUT', `/versions/${version['id']}/files/${encodeURIComponent(file)}`, bytes)).body,
    );
  return { shot, version, stored };
}
const database = async () => {
  const client = new pg.Client({ connectionString: application.database });
  client.on('error', () => undefined);
  await client.connect();
  return client;
};

const processes = (text: string) => processesOf(data, text);
const serverProcess = () => processes('server/generated/main.mjs')[0]!;
const lane = (name: string) =>
  processes('server/generated/lane.mjs').find((pid) =>
    readFileSync(`/proc/${pid}/environ`, 'utf8').includes(`LANE=${name}`),
  );

/** A request of which only the head is sent, or whose answer is never read. */
function stalled(request: string): Socket {
  const { hostname, port } = new URL(application.address);
  const socket = connect(Number(port), hostname);
  socket.on('error', () => undefined);
  socket.pause();
  socket.write(request);
  return socket;
}

/** An EXR that claims a picture of `width` x `height` zeros, in as few bytes as the format allows. */
function bomb(width: number, height: number): Uint8Array {
  const small = writeExr(
    {
      dataWindow: { xMin: 0, yMin: 0, xMax: 15, yMax: 15 },
      channels: [
        { name: 'Y', type: 'half', xSampling: 1, ySampling: 1, pLinear: false, data: new Uint16Array(256) },
      ],
    },
    { compression: 'zip' },
  );
  const header = Buffer.from(small.subarray(0, small.length));
  // Both windows' last corners, as the header stores them.
  for (const window of ['dataWindow', 'displayWindow']) {
    const at = header.indexOf(`${window}\0box2i\0`) + window.length + 1 + 6 + 4;
    header.writeInt32LE(width - 1, at + 8);
    header.writeInt32LE(height - 1, at + 12);
  }
  const blocks = Math.ceil(height / 16);
  const end = header.indexOf('screenWindowWidth\0float\0') + 'screenWindowWidth\0float\0'.length + 8;
  const table = end + 1;
  const block = deflateSync(Buffer.alloc(width * 2 * 16), { level: 9 });
  const head = Buffer.from(header.subarray(0, table));
  const offsets = Buffer.alloc(8 * blocks);
  const body: Buffer[] = [];
  let at = table + offsets.length;
  for (let i = 0; i < blocks; i++) {
    offsets.writeBigUInt64LE(BigInt(at), 8 * i);
    const lead = Buffer.alloc(8);
    lead.writeInt32LE(16 * i, 0);
    lead.writeInt32LE(block.length, 4);
    body.push(lead, block);
    at += 8 + block.length;
  }
  return new Uint8Array(Buffer.concat([head, offsets, ...body]));
}

describe('transfers', () => {
  let file: Json;
  let bytes: Uint8Array;
  beforeAll(async () => {
    bytes = sampleBytes('object_rle.exr');
    file = (await newVersion('Transfers', [['object_rle.exr', bytes]])).stored[0]!;
  });

  test('a file is served in parts, and its head without opening it', async () => {
    const get = (range: string) =>
      fetch(`${application.address}/api/files/${file['id']}`, { headers: { range } });
    const part = await get('bytes=524280-524299');
    expect(part.status).toBe(206);
    expect(part.headers.get('content-range')).toBe(`bytes 524280-524299/${bytes.length}`);
    expect(Buffer.from(await part.arrayBuffer()).equals(bytes.subarray(524280, 524300))).toBe(true);
    const tail = await get('bytes=-7');
    expect(Buffer.from(await tail.arrayBuffer()).equals(bytes.subarray(bytes.length - 7))).toBe(true);
    const rest = await get('bytes=900000-');
    expect(Buffer.from(await rest.arrayBuffer()).equals(bytes.subarray(900000))).toBe(true);
    const outside = await get(`bytes=${bytes.length}-`);
    expect([outside.status, outside.headers.get('content-range')]).toEqual([416, `bytes */${bytes.length}`]);
    const head = await fetch(`${application.address}/api/files/${file['id']}`, { method: 'HEAD' });
    expect([head.status, head.headers.get('content-length')]).toEqual([200, String(bytes.length)]);
  });

  test('forty HEADs and two dozen stalled transfers hold nothing up', async () => {
    const path = `/api/files/${file['id']}`;
    await Promise.all(
      Array.from({ length: 40 }, () => fetch(`${application.address}${path}`, { method: 'HEAD' })),
    );
    const { version } = await newVersion('Stalled', []);
    const host = new URL(application.address).host;
    const sockets = [
      ...Array.from({ length: 14 }, () => stalled(`GET ${path} HTTP/1.1\r\nHost: ${host}\r\n\r\n`)),
      ...Array.from({ length: 14 }, (_, i) =>
        stalled(
          `PUT /api/versions/${version['id']}/files/s${i}.exr HTTP/1.1\r\nHost: ${host}\r\nContent-Length: 900000\r\n\r\nhoney`,
        ),
      ),
    ];
    try {
      await new Promise((resolve) => setTimeout(resolve, 500));
      for (let i = 0; i < 30; i++) expect((await call('GET', '/shots')).status).toBe(200);
      // Those that do not move are ended, and then others get their turn.
      await until(async () => {
        const { status } = await call('PUT', `/versions/${version['id']}/files/late.exr`, bytes);
        return status === 201 ? true : undefined;
      });
    } finally {
      sockets.forEach((s) => s.destroy());
    }
  });
});

describe('what is sent', () => {
  test('over the limit is refused with its size, and the server lives on', async () => {
    const answer = await call('POST', '/shots', `{"name":"${'a'.repeat(33 * 2 ** 20)}"}`);
    expect(answer.status).toBe(413);
    expect(answer.body['detail']).toContain('32 MB');
    expect((await call('GET', '/health')).status).toBe(200);
  });
  test.each([
    ['{"name":"hi\\u0000ve"}', '/name'],
    ['{"name":"half \\ud83d"}', '/name'],
    ['{"name":"x","\\u0000":1}', 'A name in the document'],
  ])('%s is refused with its place', async (body, place) => {
    const answer = await call('POST', '/shots', body);
    expect(answer.status).toBe(400);
    expect(answer.body['detail']).toContain(place);
  });
  test('under a name that nothing can be is refused: constructor, too long, empty', async () => {
    const { version } = await newVersion('Names', []);
    const put = (name: string, body: Uint8Array) =>
      call('PUT', `/versions/${version['id']}/files/${name}`, body);
    expect((await put('x.constructor', new Uint8Array(5))).status).toBe(415);
    expect((await put('a%00b.exr', new Uint8Array(5))).status).toBe(400);
    expect((await put(`${'a'.repeat(300)}.exr`, new Uint8Array(5))).status).toBe(400);
    expect((await put('empty.exr', new Uint8Array(0))).status).toBe(400);
    const { rows } = await (
      await database()
    ).query('select 1 from file where version_id = $1', [version['id']]);
    expect(rows).toEqual([]);
  });
  test.each([
    ['GET', '/shots/00000000-0000-4000-8000-000000000000/renders'],
    ['GET', '/shots/00000000-0000-4000-8000-000000000000/figures'],
    ['POST', '/jobs/00000000-0000-4000-8000-000000000000/cancel'],
    ['POST', '/jobs/00000000-0000-4000-8000-000000000000/keep'],
    [
      'POST',
      '/shots/00000000-0000-4000-8000-000000000000/renders/00000000-0000-4000-8000-000000000000/again',
    ],
    ['POST', '/shots/00000000-0000-4000-8000-000000000000/renders/nonsense/cancel'],
  ])('%s %s is a 404', async (method, path) => expect((await call(method, path)).status).toBe(404));

  test('by another site is refused, and every answer carries the policies', async () => {
    const foreign = await call('GET', '/shots', undefined, { 'sec-fetch-site': 'cross-site' });
    expect(foreign.status).toBe(403);
    const near = await call('GET', '/shots', undefined, { 'sec-fetch-site': 'same-site' });
    expect(near.status).toBe(403);
    const own = await call('GET', '/shots', undefined, { 'sec-fetch-site': 'same-origin' });
    expect(own.status).toBe(200);
    const missing = await call('GET', '/nothing');
    const page = await fetch(application.address);
    for (const headers of [foreign.headers, own.headers, missing.headers, page.headers]) {
      expect(headers.get('content-security-policy')).toBe(
        "script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; worker-src 'self'; img-src 'self' blob: data:; frame-ancestors 'none'",
      );
      expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
      expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
      expect(headers.get('cross-origin-resource-policy')).toBe('same-origin');
    }
  });
});

describe('the disk', () => {
  test('that fills is told to every page, before it is full', async () => {
    const stop = new AbortController();
    const response = await fetch(`${application.address}/api/events`, { signal: stop.signal });
    const reader = response.body!.getReader();
    let text = '';
    while (!text.includes('event: disk')) text += new TextDecoder().decode((await reader.read()).value);
    stop.abort();
    const state = JSON.parse(/event: disk\ndata: (.*)/.exec(text)![1]!) as { free: number; low: boolean };
    expect(state.low).toBe(true);
    expect(state.free).toBeGreaterThan(0);
    expect((await call('GET', '/health')).body['disk']).toMatchObject({ low: true });
  });
});

describe('jobs', () => {
  test('that are not over are all listed, however many', async () => {
    const { shot } = await newVersion('Many', []);
    const client = await database();
    // Held by a worker that has just signed in, from the future: nobody takes them up.
    await client.query(
      `insert into job (kind, shot_id, state, input, seen)
       select 'render', $1, 'running', '{}', now() + interval '1 hour' from generate_series(1, 130)`,
      [shot['id']],
    );
    const { body } = await call('GET', '/jobs');
    await client.query('delete from job where shot_id = $1', [shot['id']]);
    await client.end();
    expect((body as unknown as Json[]).filter((j) => j['shot_id'] === shot['id'])).toHaveLength(130);
  });

  test('a small file that claims a huge picture is refused before memory is taken', async () => {
    const { shot, version } = await newVersion('Bomb', [['bomb.exr', bomb(30_000, 30_000)]]);
    const job = await ended((await call('POST', `/versions/${version['id']}/read`)).body['id']);
    expect(job['message']).toMatch(/bomb\.exr: opening it would take .* GB of memory/);
    expect((await call('GET', `/shots/${shot['id']}`)).body['versionState']).toBe('failed');
  });

  test('reading that blocks is cancelled in seconds; other jobs go on; the version is not stuck', async () => {
    // Large enough that reading takes long, and within the budget.
    const { shot, version } = await newVersion('Slow', [['slow.exr', bomb(3008, 3008)]]);
    const id = (await call('POST', `/versions/${version['id']}/read`)).body['id'] as string;
    await until(async () => ((await jobOf(id))?.['state'] === 'running' ? true : undefined));
    const pid = lane('short')!;
    // Stopped in its tracks, it can answer nobody: as if it looped for ever.
    process.kill(pid, 'SIGSTOP');
    expect((await call('POST', `/jobs/${id}/cancel`)).status).toBe(204);
    await until(async () => (existsSync(`/proc/${pid}`) ? undefined : true), 10);
    await until(async () =>
      (await call('GET', `/shots/${shot['id']}`)).body['versionState'] === 'failed' ? true : undefined,
    );
    expect((await call('GET', `/shots/${shot['id']}`)).body['problem']).toBe('Reading was cancelled.');
    // It can be read after all, by the process that follows.
    const again = (await call('POST', `/versions/${version['id']}/read`)).body['id'] as string;
    expect((await ended(again))['state']).toBe('done');
  });

  test('a job under which its process dies is begun three times and then fails with the reason', async () => {
    const { version } = await newVersion('Deadly', [['deadly.exr', bomb(5008, 5008)]]);
    const id = (await call('POST', `/versions/${version['id']}/read`)).body['id'] as string;
    let killed = 0;
    for (const last = new Set<number>(); killed < 3;) {
      await until(async () => {
        const pid = lane('short');
        const job = await jobOf(id);
        // Not before it works on it: dying while it starts says nothing about the job.
        const works = job?.['state'] === 'running' && job['progress'] >= 0.1;
        if (pid === undefined || last.has(pid) || !works) return undefined;
        last.add(pid);
        process.kill(pid, 'SIGKILL');
        return true;
      });
      killed++;
    }
    const job = await ended(id);
    expect(job).toMatchObject({ state: 'failed' });
    expect(job['message']).toMatch(/ended by SIGKILL.*begun 3 times/);
    expect((await newVersion('After', [['a.exr', sampleBytes('object_two_ranks.exr')]])).stored).toHaveLength(
      1,
    );
  });
});

describe('a long line of short jobs', () => {
  test('is offered again only if nobody has done any of them for a while', async () => {
    const { shot, version } = await newVersion('Line', [['a.exr', sampleBytes('object_two_ranks.exr')]]);
    const client = await database();
    // Within a transaction that is undone, so that no worker sees them.
    await client.query('begin');
    const insert = (state: string, queued: string, ended: string | null) =>
      client.query<{ id: string }>(
        `insert into job (kind, shot_id, version_id, state, input, queued, started, ended)
         values ('parcel', $1, $2, $3, '{}', now() - $4::interval, now() - $4::interval, now() - $5::interval) returning id`,
        [shot['id'], version['id'], state, queued, ended],
      );
    const waiting = (await insert('waiting', '1 minute', null)).rows[0]!.id;
    const done = (await insert('done', '1 minute', '2 seconds')).rows[0]!.id;
    const again = async () => (await reviveJobs(client as never, ['parcel'], [])).again;
    expect(await again()).toEqual([]);
    await client.query(`update job set ended = now() - interval '20 seconds' where id = $1`, [done]);
    expect(await again()).toEqual([waiting]);
    await client.query('rollback');
    await client.end();
  });
});

describe('the database', () => {
  async function heard(work: () => Promise<unknown>, end: string): Promise<string> {
    const stop = new AbortController();
    const response = await fetch(`${application.address}/api/events`, { signal: stop.signal });
    const reader = response.body!.getReader();
    let text = '';
    const listening = (async () => {
      while (!text.includes(end)) text += new TextDecoder().decode((await reader.read()).value);
    })();
    await work();
    await listening;
    stop.abort();
    return text;
  }

  test('breaks under uploads and downloads: they fail, the server lives', async () => {
    const before = serverProcess();
    const { version, stored } = await newVersion('Broken', [['a.exr', sampleBytes('object_rle.exr')]]);
    const host = new URL(application.address).host;
    const upload = stalled(
      `PUT /api/versions/${version['id']}/files/b.exr HTTP/1.1\r\nHost: ${host}\r\nContent-Length: 900000\r\n\r\nhoney`,
    );
    const download = stalled(`GET /api/files/${stored[0]!['id']} HTTP/1.1\r\nHost: ${host}\r\n\r\n`);
    await new Promise((resolve) => setTimeout(resolve, 400));
    const client = await database();
    await client.query(
      'select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() and datname = current_database()',
    );
    await client.end();
    await until(async () => ((await call('GET', '/health')).status === 200 ? true : undefined));
    expect(serverProcess()).toBe(before);
    upload.destroy();
    download.destroy();
  });

  test('dies: the application starts it again, says 503 meanwhile, and finds it; events and jobs go on', async () => {
    const before = serverProcess();
    const text = await heard(async () => {
      const postmaster = Number(readFileSync(join(data, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]);
      process.kill(postmaster, 'SIGKILL');
      const status = await until(async () => {
        const answer = await call('GET', '/health');
        return answer.status === 200 ? undefined : answer.status;
      }, 10);
      expect(status).toBe(503);
      await until(async () => ((await call('GET', '/health')).status === 200 ? true : undefined));
    }, 'event: missed');
    expect(text).toContain('event: missed');
    expect(serverProcess()).toBe(before);
    await heard(async () => {
      const { version } = await newVersion('Back', [['a.exr', sampleBytes('object_two_ranks.exr')]]);
      const job = await ended((await call('POST', `/versions/${version['id']}/read`)).body['id']);
      expect(job['state']).toBe('done');
    }, 'event: job\n');
  }, 180_000);

  test('the server dies: it is started again at the same address, and cleans up what never arrived', async () => {
    const { version: old } = await newVersion('Never arrived', []);
    const { version: young } = await newVersion('Arriving', []);
    const client = await database();
    await client.query(`update version set heard = now() - interval '3 hours' where id = $1`, [old['id']]);
    await client.end();
    const before = serverProcess();
    process.kill(before, 'SIGKILL');
    await until(async () => ((await call('GET', '/health')).status === 200 ? true : undefined));
    expect(serverProcess()).not.toBe(before);
    const put = (id: string) => call('PUT', `/versions/${id}/files/a.exr`, new Uint8Array(5));
    expect((await put(old['id'])).status).toBe(404);
    expect((await put(young['id'])).status).toBe(201);
  });
});

describe('npm start', () => {
  const start = (folder: string, env: Record<string, string> = {}): ChildProcess =>
    spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: HOUSE,
      env: { ...process.env, ZESTY_CROW_DATA: folder, PORT: '0', SEED_DEMO: '0', ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });

  test('a second time says where the first one runs, and leaves it alone', async () => {
    const second = spawnSync(process.execPath, ['scripts/start.mjs'], {
      cwd: HOUSE,
      env: { ...process.env, ZESTY_CROW_DATA: data, PORT: '0' },
      encoding: 'utf8',
    });
    expect(second.status).toBe(0);
    expect(second.stdout).toContain(`runs already at ${application.address}`);
    expect((await call('GET', '/health')).status).toBe(200);
    // Neither does one that is ended while it looks around.
    const third = start(data);
    const over = new Promise((resolve) => third.once('exit', resolve));
    await new Promise((resolve) => setTimeout(resolve, 60));
    third.kill('SIGINT');
    await over;
    expect((await call('GET', '/health')).status).toBe(200);
  });

  test.each([
    'Making the database',
    'Starting the database',
    'Updating the database: 001_shots.sql',
    'Updating the database: 009_parcels.sql',
  ])('the first time, killed when it says “%s”, starts the next time', async (phase) => {
    const folder = openFolder('first');
    const first = start(folder);
    await new Promise<void>((resolve, reject) => {
      let said = '';
      first.stdout!.on('data', (text: Buffer) => {
        said += String(text);
        if (said.includes(phase)) resolve();
      });
      first.once('exit', () => reject(new Error(`It ended before it said that: ${said}`)));
    });
    first.removeAllListeners('exit');
    first.kill('SIGKILL');
    await new Promise((resolve) => first.once('exit', resolve));
    const next = await startWhole(folder, { SEED_DEMO: '0' });
    expect((await fetch(`${next.address}/api/health`)).status).toBe(200);
    await next.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('in a place where no folder can be made says so in plain words', () => {
    const file = join(mkdtempSync(join(tmpdir(), 'zesty-crow-ro-')), 'file');
    writeFileSync(file, '');
    const { status, stdout } = spawnSync(process.execPath, ['scripts/start.mjs'], {
      cwd: HOUSE,
      env: { ...process.env, ZESTY_CROW_DATA: join(file, 'data') },
      encoding: 'utf8',
    });
    expect(status).toBe(1);
    expect(stdout).toMatch(/may not be written|cannot be written|Choose another one/);
    expect(stdout).not.toContain('    at ');
  });
});

describe('a render whose program is killed', () => {
  const newest = async (id: string) =>
    ((await call('GET', `/shots/${id}/renders`)).body as unknown as Json[])[0]!;
  const jobNow = async (id: string) => (await newest(id))['jobs'][0] as Json;
  const kill = async () => {
    const pid = await until(async () => lane('long'));
    process.kill(pid, 'SIGKILL');
  };
  const keep = async (id: string) =>
    call('POST', `/shots/${id}/renders/${(await newest(id))['versionId']}/keep`);

  const PHASES: [string, (id: string) => Promise<unknown>][] = [
    [
      'before there is anything to see',
      (id) => until(async () => ((await jobNow(id))['state'] === 'running' ? true : undefined)),
    ],
    ['after the first look', (id) => until(async () => ((await jobNow(id))['look'] > 0 ? true : undefined))],
    ['after a snapshot', (id) => until(async () => ((await jobNow(id))['snapshot'] > 0 ? true : undefined))],
    [
      'while it is stopped and kept',
      async (id) => {
        await until(async () => ((await jobNow(id))['look'] > 0 ? true : undefined));
        await keep(id);
      },
    ],
  ];
  // The last two; the others in a campaign.
  test.each(PHASES.slice(scaled(1) > 1 ? 0 : 2))(
    '%s is taken up again, and is one whole version in the end',
    async (phase, reach) => {
      const id = (await call('POST', '/shots', { name: `Killed ${phase}` })).body['id'] as string;
      expect((await call('PUT', `/shots/${id}/scene/small.glb`, await smallScene())).status).toBe(201);
      await ended((await call('POST', `/shots/${id}/scene/read`)).body['id'] as string);
      const plan = emptyPlan();
      Object.assign(plan.render, { width: 256, height: 160, samples: 65536 });
      await call('PUT', `/shots/${id}/plan`, { revision: 0, label: 'Plan', body: plan });
      await call('POST', `/shots/${id}/renders`, { request: { what: 'all' } });
      await reach(id);
      const looks = (await jobNow(id))['look'] as number;
      await kill();
      // Another program goes on with it, from what it was asked for.
      await until(async () => {
        const job = await jobNow(id);
        if (job['state'] === 'done') return true;
        return job['state'] === 'running' && job['look'] > looks ? true : undefined;
      }, 60);
      await keep(id);
      const done = await until(async () => {
        const now = await newest(id);
        return now['state'] === 'ready' && now['unfinished'] === null && now['jobs'][0].state === 'done'
          ? now
          : undefined;
      }, 60);
      expect(done['problem']).toBeNull();
      expect(done['measured']).toHaveLength(1);
      const { versions } = (await call('GET', `/shots/${id}`)).body;
      const files: Json[] = versions[0].files;
      expect(files.filter((f) => f['role'] === 'picture')).toHaveLength(1);
      expect(files.filter((f) => f['role'] === 'sums')).toHaveLength(1);
    },
    90_000,
  );
});
