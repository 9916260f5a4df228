import { createHash } from 'node:crypto';
import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  realpathSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode } from 'fast-png';
import pg from 'pg';
import { callsOf, until, type Json } from '../test/calls.ts';
import type { Application } from '../../e2e/harness/application.ts';
import { startEmpty } from '../../e2e/harness/database.ts';
import { samplePath, truth } from '../../core/test/fixtures/samples.ts';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { scaled } from '../../core/test/runs.ts';
import { parseChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { emptyPlan } from '@zesty-crow/core/plan';
import { readExr } from '@zesty-crow/core/formats/exr';
import { maskToPng } from '@zesty-crow/core/formats/png';
import { halvesToFloats } from '@zesty-crow/core/planes';

let application: Application;
let database: pg.Client;
const delivery = realpathSync(mkdtempSync(join(tmpdir(), 'zesty-crow-delivery-')));

beforeAll(async () => {
  mkdirSync(join(delivery, 'passes'));
  writeFileSync(join(delivery, 'passes', 'hive.exr'), sampleBytes('all.exr'));
  writeFileSync(join(delivery, 'notes.txt'), 'none');
  symlinkSync(tmpdir(), join(delivery, 'elsewhere'));
  application = await startEmpty({
    // Nobody waits here for workers that are slow.
    JOB_PATIENCE_SECONDS: '8',
    UPLOAD_LIMIT_MB: '2',
    ZESTY_CROW_FOLDERS: delivery,
  });
  database = new pg.Client({ connectionString: application.database });
  await database.connect();
});
afterAll(async () => {
  await database?.end();
  await application?.stop();
});

const { call, ended } = callsOf(() => application);
const sampleBytes = (name: string) => new Uint8Array(readFileSync(samplePath(name)));

/** The process that holds a local TCP port, by Linux's tables of sockets. */
function processOfPort(port: number): number {
  const inHex = (n: number) => n.toString(16).toUpperCase().padStart(4, '0');
  const [hex, towards] = [inHex(port), inHex(Number(new URL(application.database).port))];
  const line = readFileSync('/proc/net/tcp', 'utf8')
    .split('\n')
    // The same local port may be in use towards another database.
    .find((l) => {
      const [, local, remote] = l.trim().split(/\s+/);
      return local?.endsWith(`:${hex}`) && remote?.endsWith(`:${towards}`);
    });
  const inode = line!.trim().split(/\s+/)[9]!;
  for (const pid of readdirSync('/proc').filter((n) => /^\d+$/.test(n)))
    try {
      if (
        readdirSync(`/proc/${pid}/fd`).some(
          (fd) => readlinkSync(`/proc/${pid}/fd/${fd}`) === `socket:[${inode}]`,
        )
      )
        return Number(pid);
    } catch {
      // Ended meanwhile, or somebody else's.
    }
  throw new Error(`No process holds port ${port}.`);
}

async function shotOf(file: string, name = 'Hive at dusk', bytes = sampleBytes(file)) {
  const shot = (await call('POST', '/shots', { name })).body;
  const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
  const stored = await call('PUT', `/versions/${version['id']}/files/${encodeURIComponent(file)}`, bytes);
  expect(stored.status).toBe(201);
  const job = (await call('POST', `/versions/${version['id']}/read`)).body;
  return { shot, version, stored: stored.body, job: await ended(job['id']) };
}

const change = (words: string) => ({
  id: 'c1',
  words,
  on: true,
  done: false,
  who: [{ mode: 'with', layer: 'CryptoMaterial', member: 'brass' }],
  edge: [],
  fence: [],
  brush: [],
  plainEdges: true,
  corrections: [{ id: 'k1', kind: 'exposure', on: true, values: { stops: 1 } }],
});
const list = (...changes: unknown[]) => ({
  format: 'zesty-crow/changes',
  version: 7,
  headings: [],
  changes,
  variants: [],
});

describe('files', () => {
  test('come back byte for byte, in chunks, with their digest', async () => {
    const { stored } = await shotOf('all.exr');
    const bytes = sampleBytes('all.exr');
    expect(stored).toMatchObject({
      size: bytes.length,
      sha256: createHash('sha256').update(bytes).digest('hex'),
    });
    const response = await fetch(`${application.address}/api/files/${stored['id']}`);
    expect(Buffer.compare(Buffer.from(await response.arrayBuffer()), bytes)).toBe(0);
    const { rows } = await database.query(
      'select count(*)::int n, sum(length(bytes))::int total from file_chunk where file_id = $1',
      [stored['id']],
    );
    expect(rows[0]).toEqual({ n: Math.ceil(bytes.length / 524288), total: bytes.length });
    const again = await fetch(`${application.address}/api/files/${stored['id']}`, {
      headers: { 'if-none-match': response.headers.get('etag')! },
    });
    expect(again.status).toBe(304);
  });
  test('too large or of the wrong kind are refused and leave nothing', async () => {
    const shot = (await call('POST', '/shots', { name: 'Too much' })).body;
    const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const large = await call('PUT', `/versions/${version['id']}/files/big.exr`, new Uint8Array(3 * 2 ** 20));
    expect([large.status, large.type]).toEqual([413, 'application/problem+json']);
    expect(large.body['detail']).toContain('2 MB');
    // One that says so beforehand is refused before any of it is sent.
    const claimed = await new Promise<number | undefined>((resolve, reject) => {
      const sent = request(`${application.address}/api/versions/${version['id']}/files/big.exr`, {
        method: 'PUT',
        headers: { 'content-length': 3 * 2 ** 20, origin: application.address },
      });
      sent.on('error', reject);
      sent.on('response', ({ statusCode }) => {
        sent.destroy();
        resolve(statusCode);
      });
      sent.flushHeaders();
    });
    expect(claimed).toBe(413);
    expect((await call('PUT', `/versions/${version['id']}/files/notes.txt`, new Uint8Array(5))).status).toBe(
      415,
    );
    const { rows } = await database.query('select 1 from file where version_id = $1', [version['id']]);
    expect(rows).toEqual([]);
    expect((await call('DELETE', `/versions/${version['id']}`)).status).toBe(204);
  });
});

/** A version once its last reading is over. */
const read = (shotId: string, wanted: (v: Json) => boolean) =>
  until(async () => {
    const v = ((await call('GET', `/shots/${shotId}`)).body['versions'] as Json[])[0]!;
    return v['state'] === 'ready' && wanted(v) ? v : undefined;
  });

describe('a version that the artist knows better', () => {
  test('keeps what was said, and is read again by it', async () => {
    const { shot, version } = await shotOf('all.exr');
    const masks = [{ name: 'far', channels: [{ channel: 'depth.Z', times: 1 }], from: 0, to: 9 }];
    const told = (await call('PATCH', `/versions/${version['id']}/interpretation`, { masks })).status;
    expect(told).toBe(204);
    const v = await read(shot['id'], ({ summary }) => (summary as Json)['layers'].length === 3);
    expect(v['interpretation']).toEqual({ masks });
    expect(v['summary'].layers[2]).toMatchObject({ name: 'Masks', members: 1 });
    const wrong = await call('PATCH', `/versions/${version['id']}/interpretation`, { masks: [{}] });
    expect([wrong.status, wrong.body['detail']]).toEqual([400, expect.stringContaining('/masks/0')]);
  });

  test('takes a file in place of one of its name, which can be brought back', async () => {
    const { shot, version, stored } = await shotOf('material_piz.exr');
    const layers = (names: string[]) => (v: Json) =>
      JSON.stringify((v['summary'] as Json)['layers'].map((l: Json) => l['name'])) === JSON.stringify(names);
    const put = await call(
      'PUT',
      `/versions/${version['id']}/files/material_piz.exr`,
      sampleBytes('object_rle.exr'),
    );
    expect(put.status).toBe(201);
    expect((await call('POST', `/versions/${version['id']}/read`)).status).toBe(202);
    const v = await read(shot['id'], layers(['CryptoObject']));
    const pictures = (v['files'] as Json[]).filter((f) => f['role'] === 'picture');
    expect(pictures.map((f) => f['id'])).toEqual([put.body['id']]);
    expect((await call('POST', `/versions/${version['id']}/files/${stored['id']}/restore`)).status).toBe(204);
    await read(shot['id'], layers(['CryptoMaterial']));
    expect((await call('DELETE', `/versions/${version['id']}/files/${put.body['id']}`)).status).toBe(404);
  });
});

describe('mending', () => {
  const { channels, header } = readExr(sampleBytes('truth_object_masks.exr'));
  const buffer = (object: number, invert: boolean) => {
    const plane = channels[object]!.data as Float32Array;
    return maskToPng(invert ? plane.map((v) => 1 - v) : plane, header);
  };
  async function buffers(name: string) {
    const shot = (await call('POST', '/shots', { name })).body;
    const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const files = { 'jars_buffer_07.png': buffer(6, true), 'jars_buffer_08.png': buffer(7, false) };
    for (const [file, bytes] of Object.entries(files))
      await call('PUT', `/versions/${version['id']}/files/${file}`, bytes);
    await ended((await call('POST', `/versions/${version['id']}/read`)).body['id']);
    return { shot, version };
  }
  const codesOf = (v: Json) => ((v['summary'] as Json)['findings'] as Json[]).map((f) => f['code']);
  const names = (v: Json) =>
    (v['files'] as Json[]).filter((f) => f['role'] === 'picture').map((f) => f['name'] as string);

  test('a file takes the place of the old one, which comes back by a swap', async () => {
    const { shot, version } = await buffers('Turned round');
    const before = await read(shot['id'], (v) => codesOf(v).includes('buffer-inverted'));
    const { remedy } = (before['summary'] as Json)['findings'].find(
      (f: Json) => f['code'] === 'buffer-inverted',
    );
    const job = await call('POST', `/versions/${version['id']}/mendings`, remedy.mend);
    expect(job.status).toBe(202);
    const done = await ended(job.body['id']);
    expect([done['state'], done['message']]).toEqual(['done', 'buffer_07.Y was turned round.']);
    const after = await read(shot['id'], (v) => !codesOf(v).includes('buffer-inverted'));
    expect(names(after).sort()).toEqual(['jars_buffer_07.exr', 'jars_buffer_08.png']);
    const { added, retired } = done['result'];
    const swap = (retire: string[], restore: string[]) =>
      call('POST', `/versions/${version['id']}/swap`, { retire, restore });
    expect((await swap(added, retired)).status).toBe(204);
    const back = await read(shot['id'], (v) => codesOf(v).includes('buffer-inverted'));
    expect(names(back).sort()).toEqual(['jars_buffer_07.png', 'jars_buffer_08.png']);
    expect((await swap(retired, added)).status).toBe(204);
    await read(shot['id'], (v) => names(v).includes('jars_buffer_07.exr'));
  });

  test('what cannot be mended is told, and nothing is changed', async () => {
    const { shot, version } = await buffers('Stays as it is');
    const ask = (mending: object) => call('POST', `/versions/${version['id']}/mendings`, mending);
    expect((await ask({ what: 'turn-round' })).status).toBe(400);
    const failed = await ended((await ask({ what: 'polish', layer: 'buffer_07.Y' })).body['id']);
    expect([failed['state'], failed['message']]).toEqual([
      'failed',
      expect.stringContaining('no remedy called'),
    ]);
    const v = await read(shot['id'], (known) => names(known).length === 2);
    expect(names(v).sort()).toEqual(['jars_buffer_07.png', 'jars_buffer_08.png']);
  });

  test('what passes are goes on to the next version, and is offered to other shots', async () => {
    const { shot, version } = await buffers('Named buffers');
    const roles = { buffer_07: { role: 'object-buffer', number: 7, name: 'smoker' } };
    await call('PATCH', `/versions/${version['id']}/interpretation`, { roles });
    const next = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const { body } = await call('GET', `/shots/${shot['id']}`);
    expect((body['versions'] as Json[]).find((v) => v['id'] === next['id'])!['interpretation']).toEqual({
      roles,
    });
    const { shot: other } = await shotOf('all.exr', 'Another shot');
    const [own] = (await call('GET', `/shots/${other['id']}`)).body['versions'] as Json[];
    const known = (await call('GET', `/versions/${own!['id']}/known-roles`)).body as unknown as Json[];
    expect(known).toContainEqual({ shot: 'Named buffers', version: 2, roles });
    expect((await call('GET', `/versions/${version['id']}/known-roles`)).body).not.toContainEqual(
      expect.objectContaining({ shot: 'Named buffers' }),
    );
  });
});

test('files that are dropped again are known by size, and by sum', async () => {
  const { shot, stored } = await shotOf('all.exr', 'Known jars');
  const { size, sha256 } = stored;
  const files = [{ size }, { size, sha256 }, { size, sha256: '0'.repeat(64) }, { size: 1 }];
  const { known } = (await call('POST', '/files/known', { files })).body;
  expect(known.map((k: Json | null) => k && k['shot'])).toEqual(['Known jars', 'Known jars', null, null]);
  expect(known[1]).toMatchObject({ shotId: shot['id'], version: 1, name: 'all.exr' });
});

describe("a folder on the server's machine", () => {
  test('is brought in without being sent', async () => {
    expect((await call('GET', '/folders')).body).toEqual({ path: null, folders: [delivery], files: [] });
    const listing = (await call('GET', `/folders?files&path=${encodeURIComponent(delivery)}`)).body;
    expect(listing['files'].map((f: Json) => f['path'])).toEqual(['notes.txt', 'passes/hive.exr']);
    const shot = (await call('POST', '/shots', { name: 'From a disk' })).body;
    const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const files = [{ path: 'passes/hive.exr', frame: null }];
    const job = await call('POST', `/versions/${version['id']}/take`, { folder: delivery, files });
    expect((await ended(job.body['id']))['state']).toBe('done');
    const v = await read(shot['id'], () => true);
    expect([v['width'], v['files'][0].name]).toEqual([640, 'hive.exr']);
  });
  test('outside of what was allowed it is refused, also through links and dots', async () => {
    for (const path of [tmpdir(), join(delivery, 'elsewhere'), `${delivery}/../..`, '/nowhere']) {
      const answer = await call('GET', `/folders?path=${encodeURIComponent(path)}`);
      expect([answer.status, answer.body['detail']]).toEqual([
        403,
        expect.stringContaining('ZESTY_CROW_FOLDERS'),
      ]);
    }
    const shot = (await call('POST', '/shots', { name: 'Prying' })).body;
    const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const files = [{ path: '../../etc/hive.exr', frame: null }];
    const job = await call('POST', `/versions/${version['id']}/take`, { folder: delivery, files });
    expect(await ended(job.body['id'])).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('not inside a folder'),
    });
  });
});

describe('versions', () => {
  test('are read: size, layers, findings, preview', async () => {
    const { shot, job } = await shotOf('all.exr');
    expect(job['state']).toBe('done');
    const { body } = await call('GET', `/shots/${shot['id']}`);
    expect(body['versions'][0]).toMatchObject({ number: 1, state: 'ready', width: 640, height: 360 });
    expect(body['versions'][0].summary.layers).toEqual([
      { name: 'CryptoObject', kind: 'cryptomatte', ranks: 6, manifest: 'embedded', members: 15 },
      { name: 'CryptoMaterial', kind: 'cryptomatte', ranks: 6, manifest: 'embedded', members: 9 },
    ]);
    expect(body['preview']).toMatch(/^[0-9a-f-]{36}$/);
  });
  test('that cannot be read say why, and the shot stays', async () => {
    const cut = sampleBytes('all.exr').subarray(0, 300);
    const { shot, job } = await shotOf('cut.exr', 'Cut off', cut);
    const says = expect.stringContaining('cut.exr: The file ends in the middle of') as unknown;
    expect(job).toMatchObject({ state: 'failed', message: says });
    const { body } = await call('GET', `/shots/${shot['id']}`);
    expect(body).toMatchObject({ versionState: 'failed', problem: says });
  });
  test('with IDs in half are opened, with the fault told', async () => {
    const { shot } = await shotOf('broken_half.exr');
    const { body } = await call('GET', `/shots/${shot['id']}`);
    expect(body['versions'][0].summary.findings).toContainEqual(
      expect.objectContaining({ severity: 'error', code: 'ids-half' }),
    );
  });
});

describe('shots', () => {
  test('are renamed, deleted and restored', async () => {
    const id = (await call('POST', '/shots', { name: ' Smoker ' })).body['id'] as string;
    expect((await call('PATCH', `/shots/${id}`, { name: 'Brass <b>smoker</b>' })).body['name']).toBe(
      'Brass <b>smoker</b>',
    );
    expect((await call('DELETE', `/shots/${id}`)).status).toBe(204);
    expect((await call('GET', `/shots/${id}`)).status).toBe(404);
    expect((await call('POST', `/shots/${id}/restore`)).status).toBe(200);
    expect((await call('GET', `/shots/${id}`)).status).toBe(200);
  });
  test.each([
    ['POST', '/shots', {}, 400],
    ['POST', '/shots', { name: '  ' }, 400],
    ['POST', '/shots', { name: 'a', colour: 'red' }, 400],
    ['GET', '/shots/not-an-id', undefined, 404],
    ['GET', '/shots/00000000-0000-4000-8000-000000000000', undefined, 404],
    ['GET', '/nothing', undefined, 404],
  ])('%s %s %j gives a readable problem', async (method, path, body, status) => {
    const answer = await call(method, path, body);
    expect([answer.status, answer.type]).toEqual([status, 'application/problem+json']);
    expect(String(answer.body['detail']).length).toBeGreaterThan(10);
  });
  test('a page of another origin, or another host name, is not served', async () => {
    expect((await call('POST', '/shots', { name: 'x' }, { origin: 'http://evil.example' })).status).toBe(403);
  });
  test('made from files have no scene to render', async () => {
    const id = (await call('POST', '/shots', { name: 'No scene' })).body['id'];
    const answer = await call('POST', `/shots/${id}/renders`, { request: { what: 'all' } });
    expect(answer.status).toBe(409);
    expect(answer.body['title']).toContain('no scene');
  });
});

describe('the change list', () => {
  test('keeps its history, and refuses to be overwritten unseen', async () => {
    const id = (await call('POST', '/shots', { name: 'History' })).body['id'] as string;
    const save = (revision: number, words: string) =>
      call('PUT', `/shots/${id}/changes`, { revision, label: words, body: list(change(words)) });
    expect((await call('GET', `/shots/${id}/changes`)).body).toEqual({ revision: 0, body: list() });
    expect((await save(0, 'one')).body).toMatchObject({ revision: 1, undo: 'one' });
    expect((await save(1, 'two')).body).toMatchObject({ revision: 2, undo: 'two' });
    const conflict = await save(1, 'late');
    expect(conflict.status).toBe(409);
    expect(conflict.body['current'].body.changes[0].words).toBe('two');
    const undone = (await call('POST', `/shots/${id}/changes/undo`, { revision: 2 })).body;
    expect(undone).toMatchObject({ revision: 3, undo: 'one', redo: 'two', body: list(change('one')) });
    expect((await call('POST', `/shots/${id}/changes/redo`, { revision: 3 })).body).toMatchObject({
      revision: 4,
      body: list(change('two')),
    });
    await call('POST', `/shots/${id}/changes/undo`, { revision: 4 });
    expect((await save(5, 'three')).body['redo']).toBeUndefined();
    const to = (await call('GET', `/shots/${id}/changes`)).body;
    expect(to).toMatchObject({ revision: 6, undo: 'three' });
  });
  test('remembers every step, tells what each did, and goes to any of them', async () => {
    const { id } = (await call('POST', '/shots', { name: 'Many steps' })).body;
    const save = (revision: number, words: string) =>
      call('PUT', `/shots/${id}/changes`, { revision, label: words, body: list(change(words)) });
    await save(0, 'first');
    // Many more of the same, behind the server's back: one by one they would take long.
    await database.query(
      `insert into history_step (shot_id, kind, step, label, body)
       select shot_id, kind, n, 'step ' || n, body from history_step, generate_series(2, 1200) n
       where shot_id = $1`,
      [id],
    );
    await database.query('update history set step = 1200 where shot_id = $1', [id]);
    expect((await save(1, 'last')).body).toMatchObject({ undo: 'last' });
    const told = (await call('GET', `/shots/${id}/changes/steps`)).body;
    expect(told['at']).toBe(1201);
    expect(told['steps']).toHaveLength(200);
    expect(told['steps'][0]).toMatchObject({ step: 1201, label: 'last' });
    const more = (await call('GET', `/shots/${id}/changes/steps?before=3`)).body;
    expect(more['steps'].map((s: Json) => s['label'])).toEqual(['step 2', 'first']);
    const go = (revision: number, step: number) =>
      call('POST', `/shots/${id}/changes/go`, { revision, step });
    expect((await go(2, 1)).body).toMatchObject({ revision: 3, undo: 'first', redo: 'step 2' });
    expect((await go(2, 5)).status).toBe(409);
    const empty = (await go(3, 0)).body;
    expect(empty).toMatchObject({ revision: 4, redo: 'first', body: list() });
    expect(empty['undo']).toBeUndefined();
    // There is no such step: it stays where it is.
    expect((await go(4, 5000)).body).toMatchObject({ revision: 4, redo: 'first' });
    expect((await go(4, 1201)).body).toMatchObject({ undo: 'last', body: list(change('last')) });
  });
  test('of many steps most are kept as what was different in them; each is the list that it was', async () => {
    const count = scaled(100);
    const { id } = (await call('POST', '/shots', { name: 'Differences' })).body;
    const lists: unknown[] = [list()];
    const many = Array.from({ length: 12 }, (_, i) => ({ ...change(`change ${i}`), id: `c${i}` }));
    for (let n = 0; n < count; n++) {
      const at = n % many.length;
      if (n % 17 === 3) many.push({ ...change(`later ${n}`), id: `l${n}` });
      else if (n % 23 === 5) many.splice(at, 1);
      else if (n % 29 === 7) many.reverse();
      else many[at] = { ...many[at]!, words: `step ${n}`, done: n % 2 === 0 };
      const body = list(...many);
      expect((await call('PUT', `/shots/${id}/changes`, { revision: n, label: `${n}`, body })).status).toBe(
        200,
      );
      lists.push(structuredClone(body));
    }
    const { rows } = await database.query<{ whole: number; bytes: number }>(
      `select count(body)::int as whole, sum(length(coalesce(difference, body)::text))::int as bytes
       from history_step where shot_id = $1`,
      [id],
    );
    expect(rows[0]!.whole).toBeLessThan(0.15 * count);
    expect(rows[0]!.bytes).toBeLessThan(
      0.35 * lists.reduce<number>((n, l) => n + JSON.stringify(l).length, 0),
    );
    let revision = count;
    for (const step of [count, count - 1, 1, 33, 32, 64, 65, 0, 97, 50]) {
      const gone = await call('POST', `/shots/${id}/changes/go`, { revision, step });
      expect(gone.body['body']).toEqual(lists[step]);
      revision = gone.body['revision'] as number;
    }
    // The wall of shots counts what is not done at the step that is current.
    const open = (lists[50] as ChangeList).changes.filter((c) => !c.done).length;
    expect((await call('GET', `/shots/${id}`)).body['openChanges']).toBe(open);
    // After an edit in between there is nothing to be done again.
    const body = list(change('another'));
    await call('PUT', `/shots/${id}/changes`, { revision, label: 'another', body });
    const back = await call('POST', `/shots/${id}/changes/undo`, { revision: revision + 1 });
    expect(back.body).toMatchObject({ body: lists[50] });
    expect(
      (await call('POST', `/shots/${id}/changes/redo`, { revision: revision + 2 })).body['body'],
    ).toEqual(body);
  });
  test('keeps states under names, whatever becomes of the list', async () => {
    const { id } = (await call('POST', '/shots', { name: 'States' })).body;
    const path = `/shots/${id}/changes/states`;
    const made = await call('POST', path, { name: ' As approved ', body: list(change('approved')) });
    expect(made).toMatchObject({ status: 201, body: { name: 'As approved' } });
    await call('PUT', `/shots/${id}/changes`, { revision: 0, label: 'more', body: list(change('later')) });
    expect((await call('GET', path)).body).toMatchObject([{ id: made.body['id'], name: 'As approved' }]);
    expect((await call('GET', `${path}/${made.body['id']}`)).body).toEqual(list(change('approved')));
    expect((await call('POST', path, { name: 'x', body: { changes: 1 } })).status).toBe(400);
    const other = (await call('POST', '/shots', { name: 'Other' })).body['id'];
    expect((await call('GET', `/shots/${other}/changes/states/${made.body['id']}`)).status).toBe(404);
    expect((await call('DELETE', `${path}/${made.body['id']}`)).status).toBe(204);
    expect((await call('DELETE', `${path}/${made.body['id']}`)).status).toBe(404);
    expect((await call('GET', path)).body).toEqual([]);
  });
  test('must be one', async () => {
    const id = (await call('POST', '/shots', { name: 'Wrong list' })).body['id'];
    const wrong = await call('PUT', `/shots/${id}/changes`, {
      revision: 0,
      label: 'x',
      body: list({ words: 'without an id' }),
    });
    expect(wrong.status).toBe(400);
    expect(wrong.body['detail']).toContain('/changes/0');
  });
  test('that leaves out what is neutral is stored whole', async () => {
    const id = (await call('POST', '/shots', { name: 'Typed by hand' })).body['id'];
    const body = list({ id: 'a', words: 'Lids' });
    const saved = await call('PUT', `/shots/${id}/changes`, { revision: 0, label: 'x', body });
    expect(saved.status).toBe(200);
    const { body: stored } = (await call('GET', `/shots/${id}/changes`)).body as { body: ChangeList };
    expect(stored.changes[0]).toMatchObject({
      id: 'a',
      on: true,
      who: [],
      corrections: [],
      plainEdges: false,
    });
  });
  test('of an earlier version, sent by a window from before an update, is brought up to date', async () => {
    const id = (await call('POST', '/shots', { name: 'From before' })).body['id'] as string;
    const { edge: _, ...old } = change('from before');
    const body = { ...list(old), version: 1 };
    const saved = await call('PUT', `/shots/${id}/changes`, { revision: 0, label: 'old', body });
    expect(saved.body).toMatchObject({ revision: 1, body: list(change('from before')) });
    const { rows } = await database.query<{ body: unknown }>(
      'select body from history_step where shot_id = $1',
      [id],
    );
    expect(rows.map((r) => r.body)).toEqual([list(change('from before'))]);
  });
});

describe('exports', () => {
  test('are computed at full resolution, with every other channel kept', async () => {
    const { version } = await shotOf('all.exr');
    const { edge: _, ...old } = change('Brass');
    const ask = {
      kind: 'corrected-exr',
      name: 'dusk_corrected',
      // As a window from before an update sends it.
      list: { ...list(old), version: 1 },
    };
    const job = await ended((await call('POST', `/versions/${version['id']}/export`, ask)).body['id']);
    expect(job).toMatchObject({ state: 'done', result: { name: 'dusk_corrected.exr' } });
    const response = await fetch(`${application.address}/api/files/${job['result'].fileId}?download`);
    expect(response.headers.get('content-disposition')).toContain('attachment');
    const image = readExr(new Uint8Array(await response.arrayBuffer()));
    const source = readExr(sampleBytes('all.exr'));
    const picture = ['R', 'G', 'B', 'A'];
    expect(image.channels.map((c) => c.name)).toEqual(source.channels.map((c) => c.name));
    for (const [i, c] of source.channels.entries())
      if (!picture.includes(c.name)) expect([c.name, image.channels[i]!.data]).toEqual([c.name, c.data]);
    // One stop under full coverage of the brass is twice the light, and nothing where there is none of it.
    const red = (of: typeof image) =>
      halvesToFloats(of.channels.find((c) => c.name === 'R')!.data as Uint16Array);
    const brass = readExr(sampleBytes('truth_material_masks.exr')).channels.find(
      (c) => c.name === truth.materials['brass']!.channel,
    )!.data as Float32Array;
    const [before, after] = [red(source), red(image)];
    let [inside, outside, off] = [0, 0, 0];
    for (let p = 0; p < brass.length; p++) {
      if (brass[p] === 1 && before[p]! > 0.01) {
        off = Math.max(off, Math.abs(after[p]! / before[p]! - 2));
        inside++;
      } else if (brass[p] === 0) outside += Number(after[p] !== before[p]);
    }
    expect(off).toBeLessThan(0.005);
    expect(inside).toBeGreaterThan(1000);
    expect(outside).toBe(0);
  });
  test('of the mask of a change that is not there are refused', async () => {
    const { version } = await shotOf('object_two_ranks.exr');
    const ask = {
      kind: 'mask-png',
      name: 'm',
      changeId: 'gone',
      list: list(change('Brass')),
    };
    expect((await call('POST', `/versions/${version['id']}/export`, ask)).status).toBe(400);
    expect((await call('POST', `/versions/${version['id']}/export`, { ...ask, name: '../m' })).status).toBe(
      400,
    );
  });
});

/** A shot with the small scene and a plan for it. */
async function sceneShot(name: string, render: Json = {}, passes: Json[] = [cryptomatte]) {
  const id = (await call('POST', '/shots', { name })).body['id'] as string;
  expect((await call('PUT', `/shots/${id}/scene/small.glb`, await smallScene())).status).toBe(201);
  const read = await ended((await call('POST', `/shots/${id}/scene/read`)).body['id']);
  expect(read['state']).toBe('done');
  const plan: Json = emptyPlan();
  Object.assign(plan['render'], { width: 48, height: 32, samples: 8, bounces: 1 }, render);
  plan['passes'] = passes;
  plan['wishes'] = [
    {
      id: 'w',
      words: 'Lid in blue',
      who: [{ mode: 'with', layer: 'materials', member: 'enamel' }],
      throughGlass: true,
    },
  ];
  const saved = await call('PUT', `/shots/${id}/plan`, { revision: 0, label: 'Plan', body: plan });
  expect(saved.status).toBe(200);
  return { id, plan };
}
const cryptomatte = { id: 'a', kind: 'cryptomatte', on: true, depth: 'float', values: { by: 'object' } };
const through = {
  id: 'b',
  kind: 'through-glass',
  on: true,
  depth: 'float',
  values: { way: 'refraction', by: 'object', depth: 1, roughness: 0.3, ranks: 2 },
};
const render = async (id: string, request: Json, base?: string) =>
  (await call('POST', `/shots/${id}/renders`, { request, ...(base ? { base } : {}) })).body;
const settled = (id: string, version: string) =>
  until(async () => {
    const { body } = await call('GET', `/shots/${id}/renders`);
    const found = (body as unknown as Json[]).find((r) => r['versionId'] === version);
    if (!found) return {} as Json;
    const busy = found['jobs'].some((j: Json) => ['waiting', 'running'].includes(j['state']));
    return busy || found['state'] === 'rendering' || found['unfinished'] === 'growing' ? undefined : found;
  });
const filesOf = async (id: string, version: string): Promise<Json[]> => {
  const { body } = await call('GET', `/shots/${id}`);
  return body['versions'].find((v: Json) => v['id'] === version).files;
};

describe('scenes', () => {
  test('are read, and their outline is what plans are made for', async () => {
    const { id } = await sceneShot('Scene');
    const { body } = await call('GET', `/shots/${id}/scene`);
    expect(
      body['outline'].nodes.filter((n: Json) => n['kind'] === 'object').map((n: Json) => n['path']),
    ).toEqual(['jars/glass', 'jars/lid', 'wall', 'bee']);
    expect(body['outline'].seconds).toBeCloseTo(0.5, 5);
  });
  test('that are none say why, and files that belong to none are refused', async () => {
    const id = (await call('POST', '/shots', { name: 'No scene' })).body['id'] as string;
    expect((await call('PUT', `/shots/${id}/scene/scene.fbx`, new Uint8Array(9))).status).toBe(415);
    expect((await call('POST', `/shots/${id}/scene/read`)).status).toBe(409);
    await call('PUT', `/shots/${id}/scene/scene.glb`, new TextEncoder().encode('this is no scene'));
    const job = await ended((await call('POST', `/shots/${id}/scene/read`)).body['id']);
    expect(job).toMatchObject({ state: 'failed', message: expect.stringContaining('glTF') });
    expect((await call('GET', `/shots/${id}/scene`)).body['problem']).toContain('glTF');
    expect((await call('POST', `/shots/${id}/renders`, { request: { what: 'all' } })).status).toBe(409);
  });
});

describe('plans', () => {
  test('are checked before they are kept and before they are rendered', async () => {
    const { id, plan } = await sceneShot('Plan');
    const wrong = { ...plan, passes: [{ ...cryptomatte, kind: 'moonlight' }] };
    const refused = await call('PUT', `/shots/${id}/plan`, { revision: 1, label: 'x', body: wrong });
    expect(refused.status).toBe(400);
    const empty = {
      id: 'x',
      kind: 'object-buffer',
      on: true,
      depth: 'float',
      values: { who: { of: 'object number', number: 7 } },
    };
    await call('PUT', `/shots/${id}/plan`, { revision: 1, label: 'x', body: { ...plan, passes: [empty] } });
    const blocked = await call('POST', `/shots/${id}/renders`, { request: { what: 'all' } });
    expect(blocked.status).toBe(409);
    expect(blocked.body['detail']).toContain('number 7');
    expect((await call('POST', `/shots/${id}/plan/undo`, { revision: 2 })).body['body'].passes).toEqual([
      cryptomatte,
    ]);
  });
});

describe('renders', () => {
  test('of a sequence are one job a frame, ready with wishes, costs and every ID layer', async () => {
    const { id } = await sceneShot('Sequence', { last: 3, shutter: 0.5 }, [cryptomatte, through]);
    const { versionId } = await render(id, { what: 'all' });
    const done = await settled(id, versionId);
    expect(done).toMatchObject({ state: 'ready', problem: null });
    expect(done['jobs'].map((j: Json) => [j['frame'], j['state']])).toEqual([
      [1, 'done'],
      [2, 'done'],
      [3, 'done'],
    ]);
    expect(done['measured'].map((m: Json) => m['frame']).sort()).toEqual([1, 2, 3]);
    expect(done['measured'][0].passes.map((p: Json) => p['id'])).toEqual(['picture', 'a', 'b']);
    const files = (await filesOf(id, versionId)).filter((f) => f['role'] === 'picture');
    expect(files.map((f) => f['name'])).toEqual([1, 2, 3].map((n) => `Sequence_v001_all.000${n}.exr`));
    const { body } = await call('GET', `/shots/${id}`);
    // The lid is only seen through the glass, and only one object has its material.
    expect(body['versions'][0].wishes[0].picks.map((p: Json) => [p['layer'], p['member']])).toEqual([
      ['CryptoObject', 'jars/lid'],
      ['RefractedObject', 'jars/lid'],
    ]);
    expect(body['versions'][0].summary.layers.map((l: Json) => l['name'])).toEqual([
      'CryptoObject',
      'RefractedObject',
    ]);
    // What it cost is what the next estimate is made from.
    expect((await call('GET', `/shots/${id}/figures`)).body['measured']).toHaveLength(3);
  });

  test('of IDs only join the version they belong to; a patch is laid over it', async () => {
    const { id, plan } = await sceneShot('Layers');
    const first = await render(id, { what: 'all' });
    await settled(id, first['versionId']);
    await call('PUT', `/shots/${id}/plan`, {
      revision: 1,
      label: 'More',
      body: { ...plan, passes: [through] },
    });
    const ids = await render(id, { what: 'ids' }, first['versionId']);
    expect(ids['versionId']).toBe(first['versionId']);
    await settled(id, first['versionId']);
    const files = (await filesOf(id, first['versionId'])).filter((f) => f['role'] === 'picture');
    expect(files.map((f) => f['name'])).toEqual(['Layers_v001_all.0001.exr', 'Layers_v001_ids.0001.exr']);
    // The version is brought up to date just after its passes have joined it.
    const layers = await until(async () => {
      const { body } = await call('GET', `/shots/${id}`);
      const names: string[] = body['versions'][0].summary.layers.map((l: Json) => l['name']);
      return names.length > 1 ? names : undefined;
    });
    expect(layers).toEqual(['CryptoObject', 'RefractedObject']);

    const who = [{ mode: 'with', layer: 'objects', member: 'bee' }];
    const patch = await render(
      id,
      { what: 'patch', who, looks: { fur: { colour: [0, 0, 1] } } },
      first['versionId'],
    );
    expect(await settled(id, patch['versionId'])).toMatchObject({ state: 'ready', number: 2 });

    // A plan of another size fits neither.
    const wide = { ...plan, render: { ...plan['render'], width: 64 } };
    await call('PUT', `/shots/${id}/plan`, { revision: 2, label: 'Wide', body: wide });
    const refused = await call('POST', `/shots/${id}/renders`, {
      request: { what: 'ids' },
      base: first['versionId'],
    });
    expect(refused.status).toBe(409);
    expect(refused.body['detail']).toContain('64 x 32');
  });

  test('are looked at to the end; of IDs only while they grow', async () => {
    const { id } = await sceneShot('Looks', { width: 128, height: 80, samples: 16 });
    const first = await render(id, { what: 'all' });
    const done = await settled(id, first['versionId']);
    expect(done['jobs'][0].look).toBeGreaterThan(0);
    const look = await fetch(`${application.address}/api/jobs/${done['jobs'][0].id}/look`);
    // As wide as the frame, by the header of the PNG.
    expect(Buffer.from(await look.arrayBuffer()).readUInt32BE(16)).toBe(128);
    await render(id, { what: 'ids' }, first['versionId']);
    const joined = await until(async () => {
      const found = await settled(id, first['versionId']);
      return found['jobs'].length === 2 && found['jobs'][1].state === 'done' ? found : undefined;
    });
    expect(joined['jobs'].map((j: Json) => j['look'] > 0)).toEqual([true, false]);
  });

  test('are stopped and kept, or cancelled without a trace', async () => {
    const { id } = await sceneShot('Long', { width: 256, height: 160, samples: 65536 });
    const kept = await render(id, { what: 'all' });
    const running = await until(async () => {
      const { body } = await call('GET', `/shots/${id}/renders`);
      const job = (body as unknown as Json[])[0]!['jobs'][0];
      return job['look'] > 0 && job['progress'] > 0.0003 ? (job as Json) : undefined;
    });
    const look = await fetch(`${application.address}/api/jobs/${running['id']}/look`);
    expect(look.headers.get('content-type')).toBe('image/png');
    expect((await call('POST', `/jobs/${running['id']}/keep`)).status).toBe(204);
    const done = await settled(id, kept['versionId']);
    expect(done).toMatchObject({ state: 'ready' });
    expect(done['jobs'][0].message).toContain('Stopped and kept');
    expect(done['measured'][0].samples).toBeLessThan(65536);
    expect((await call('POST', `/jobs/${running['id']}/keep`)).status).toBe(409);

    const gone = await render(id, { what: 'all' });
    expect((await call('POST', `/shots/${id}/renders/${gone['versionId']}/cancel`)).status).toBe(204);
    expect(await settled(id, gone['versionId'])).toEqual({});
  });

  test('of which a frame finds the disk full keep the others, and say what to do', async () => {
    const { id } = await sceneShot('Full', { last: 3 });
    // PostgreSQL's own error, raised when the second frame's file is written.
    await database.query(`
      create function disk_full() returns trigger language plpgsql as $$ begin
        raise exception 'could not extend file: No space left on device' using errcode = 'disk_full';
      end $$;
      create trigger disk_full before insert on file for each row
        when (new.frame = 2 or new.name = 'full.glb') execute function disk_full()`);
    try {
      const { versionId } = await render(id, { what: 'all' });
      const done = await settled(id, versionId);
      expect(done['state']).toBe('ready');
      expect(done['problem']).toMatch(/^1 frame\(s\) could not be rendered: The disk is full\. Make room/);
      expect(done['jobs'].map((j: Json) => j['state'])).toEqual(['done', 'failed', 'done']);
      const pictures = (await filesOf(id, versionId)).filter((f) => f['role'] === 'picture');
      expect(pictures.map((f) => f['frame'])).toEqual([1, 3]);
      expect(done['measured'].map((m: Json) => m['frame']).sort()).toEqual([1, 3]);
      const refused = await call('PUT', `/shots/${id}/scene/full.glb`, await smallScene());
      expect(refused.status).toBe(507);
      expect(refused.body).toMatchObject({ title: 'The disk is full.' });
    } finally {
      await database.query('drop trigger disk_full on file; drop function disk_full');
    }
    expect((await call('GET', `/shots/${id}/scene`)).body['outline'].triangles).toBeGreaterThan(0);

    // With room again, only what is missing is rendered.
    const [{ versionId }] = (await call('GET', `/shots/${id}/renders`)).body as unknown as Json[] as [Json];
    const before = await filesOf(id, versionId);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/again`)).status).toBe(204);
    expect(await settled(id, versionId)).toMatchObject({ state: 'ready', problem: null });
    const after = await filesOf(id, versionId);
    const kept = (list: Json[]) =>
      list.filter((f) => f['role'] === 'picture' && f['frame'] !== 2).map((f) => f['id']);
    expect(kept(after)).toEqual(kept(before));
    // Its preview may be there already or not.
    expect(after.filter((f) => f['frame'] === 2 && f['role'] === 'picture')).toHaveLength(1);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/again`)).status).toBe(409);
  });

  test('of which the worker is killed are taken up again, no frame lost or done twice', async () => {
    const { id } = await sceneShot('Killed', { last: 4, samples: 256 });
    const { versionId } = await render(id, { what: 'all' });
    await until(async () => {
      const { body } = await call('GET', `/shots/${id}/renders`);
      const jobs: Json[] = (body as unknown as Json[])[0]!['jobs'];
      return jobs.some((j) => j['state'] === 'done') && jobs.some((j) => j['state'] === 'running')
        ? true
        : undefined;
    });
    const { rows } = await database.query<{ pid: number }>(
      `select pid from pg_stat_activity where application_name = 'zesty-crow-worker' and datname = current_database()`,
    );
    expect(rows).toHaveLength(1);
    // The worker's own process, found by the port of its connection.
    const { rows: client } = await database.query<{ client_port: number }>(
      'select client_port from pg_stat_activity where pid = $1',
      [rows[0]!.pid],
    );
    process.kill(processOfPort(client[0]!.client_port), 'SIGKILL');
    // The worker that follows loses the database, too.
    const second = await until(async () => {
      const found = await database.query<{ pid: number }>(
        `select pid from pg_stat_activity where application_name = 'zesty-crow-worker' and datname = current_database() and pid <> $1`,
        [rows[0]!.pid],
      );
      return found.rows[0]?.pid;
    });
    await database.query('select pg_terminate_backend($1)', [second]);
    const done = await settled(id, versionId);
    expect(done).toMatchObject({ state: 'ready', problem: null });
    const names = (await filesOf(id, versionId)).filter((f) => f['role'] === 'picture').map((f) => f['name']);
    expect(names).toEqual([1, 2, 3, 4].map((n) => `Killed_v001_all.000${n}.exr`));
    expect(done['measured'].map((m: Json) => m['frame']).sort()).toEqual([1, 2, 3, 4]);
  }, 240_000);
});

describe('a version that is being rendered', () => {
  const LONG = { width: 256, height: 160, samples: 65536 };
  const begun: [string, string][] = [];
  const begin = async (id: string) => {
    const { versionId } = await render(id, { what: 'all' });
    begun.push([id, versionId]);
    return versionId as string;
  };
  // One that failed must not keep the others waiting.
  afterEach(async () => {
    for (const [id, versionId] of begun.splice(0))
      await call('POST', `/shots/${id}/renders/${versionId}/cancel`);
  });
  const renderOf = async (id: string, versionId: string) => {
    const { body } = await call('GET', `/shots/${id}/renders`);
    return (body as unknown as Json[]).find((r) => r['versionId'] === versionId)!;
  };
  /** Waits until a version can be worked on, with at least so many snapshots. */
  const grown = (id: string, versionId: string, snapshots = 1) =>
    until(async () => {
      const found = await renderOf(id, versionId);
      return found['state'] === 'ready' && found['snapshot'] >= snapshots ? found : undefined;
    });
  const pictures = async (id: string, versionId: string) =>
    (await filesOf(id, versionId)).filter((f) => f['role'] === 'picture');
  /** Channels of a version's only picture file. */
  const channelsOf = async (id: string, version: string) => {
    const [file, ...others] = await pictures(id, version);
    expect(others).toEqual([]);
    return readExr(
      new Uint8Array(await (await fetch(`${application.address}/api/files/${file!['id']}`)).arrayBuffer()),
    ).channels;
  };
  const version = async (id: string, versionId: string) =>
    (await call('GET', `/shots/${id}`)).body['versions'].find((v: Json) => v['id'] === versionId) as Json;

  test('can be opened by snapshots, and is finished by stopping it; until then nothing is handed over', async () => {
    const { id } = await sceneShot('Growing', LONG);
    const versionId = await begin(id);
    const first = await grown(id, versionId);
    expect(first).toMatchObject({ unfinished: 'growing' });
    expect((await version(id, versionId))['summary'].layers[0].name).toBe('CryptoObject');
    const [one] = await pictures(id, versionId);
    // A later snapshot takes its place, and can be read from for a while.
    await grown(id, versionId, first['snapshot'] + 1);
    const [two, ...more] = await pictures(id, versionId);
    expect(more).toEqual([]);
    expect(two!['id']).not.toBe(one!['id']);
    expect(two!['name']).toBe(one!['name']);

    const refused = await call('POST', `/versions/${versionId}/parcels`, {});
    expect([refused.status, refused.body['title']]).toEqual([409, 'v1 is not finished.']);
    const list = { format: 'zesty-crow/changes', version: 7, changes: [], headings: [], variants: [] };
    const saved = await call('POST', `/versions/${versionId}/export`, {
      kind: 'corrected-exr',
      name: 'x',
      list,
    });
    expect(saved.status).toBe(409);
    const onto = await call('POST', `/shots/${id}/renders`, { request: { what: 'ids' }, base: versionId });
    expect(onto.status).toBe(409);

    expect((await call('POST', `/shots/${id}/renders/${versionId}/keep`)).status).toBe(204);
    const done = await settled(id, versionId);
    expect(done).toMatchObject({ state: 'ready', unfinished: null });
    expect(done['measured']).toHaveLength(1);
    expect(done['measured'][0].unfinished).toBeUndefined();
    const [last, ...others] = await pictures(id, versionId);
    expect(others).toEqual([]);
    // Of the snapshots nothing is left behind.
    const { rows } = await database.query<{ id: string }>(
      `select id from file where version_id = $1 and role = 'picture'`,
      [versionId],
    );
    expect(rows.map((r) => r.id)).toEqual([last!['id']]);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/keep`)).status).toBe(409);
  }, 120_000);

  test('is gone without a trace when it is cancelled', async () => {
    const { id } = await sceneShot('Cancelled', LONG);
    const versionId = await begin(id);
    await grown(id, versionId);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/cancel`)).status).toBe(204);
    expect(await settled(id, versionId)).toEqual({});
  }, 60_000);

  test('keeps what was there at its last snapshot when its program ends again and again', async () => {
    const { id } = await sceneShot('Crashed', LONG);
    const versionId = await begin(id);
    await grown(id, versionId);
    // As if it had been begun three times: the next end is the last one.
    await database.query(`update job set tries = 3 where version_id = $1 and kind = 'render'`, [versionId]);
    await database.query(
      `update job set claim = gen_random_uuid(), seen = now() - interval '1 hour' where version_id = $1 and kind = 'render'`,
      [versionId],
    );
    const stopped = await until(async () => {
      const found = await renderOf(id, versionId);
      return found['jobs'][0].state === 'failed' && found['unfinished'] === 'stopped' ? found : undefined;
    });
    expect(stopped['jobs'][0].snapshot).toBeGreaterThan(0);
    expect(await pictures(id, versionId)).toHaveLength(1);
    expect((await call('POST', `/versions/${versionId}/parcels`, {})).status).toBe(409);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/keep`)).status).toBe(204);
    const kept = await settled(id, versionId);
    expect(kept).toMatchObject({ state: 'ready', unfinished: null });
    expect(kept['jobs'][0].message).toContain('Kept');
    expect(await pictures(id, versionId)).toHaveLength(1);
  }, 120_000);

  test('begins anew with another camera, light or material, and shows what it had until there is something new', async () => {
    const { id, plan } = await sceneShot('Anew', LONG);
    const versionId = await begin(id);
    const before = await grown(id, versionId);
    const bright = { ...plan, render: { ...plan['render'], surroundingsStops: 1, samples: 16 } };
    await call('PUT', `/shots/${id}/plan`, { revision: 1, label: 'Brighter', body: bright });
    expect((await call('POST', `/shots/${id}/renders/${versionId}/anew`, {})).status).toBe(204);
    expect(await pictures(id, versionId)).toHaveLength(1);
    const done = await settled(id, versionId);
    expect(done).toMatchObject({ state: 'ready', number: before['number'] });
    expect(done['plan'].render.surroundingsStops).toBe(1);
    // Not the 65536 of the plan that it began with.
    expect(done['measured'].at(-1).samples).toBe(16);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/anew`, {})).status).toBe(409);
  }, 60_000);

  test('gets more samples later, the very same as at once, as long as its sums are kept', async () => {
    const small = { width: 48, height: 32, samples: 4 };
    const { id, plan } = await sceneShot('More', small, [cryptomatte, through]);
    const versionId = await begin(id);
    const first = await settled(id, versionId);
    expect(first['sums']).toBeGreaterThan(48 * 32 * 40);
    const again = await call('POST', `/shots/${id}/renders/${versionId}/more`);
    expect([again.status, again.body['title']]).toEqual([409, 'v1 has 4 samples a pixel already.']);
    const more = { ...plan, render: { ...plan['render'], samples: 24 } };
    await call('PUT', `/shots/${id}/plan`, { revision: 1, label: 'More', body: more });
    expect((await call('POST', `/shots/${id}/renders/${versionId}/more`)).status).toBe(204);
    const added = await until(async () => {
      const found = await settled(id, versionId);
      return found['measured'][0]?.samples === 24 ? found : undefined;
    });
    expect(added['measured']).toHaveLength(1);
    const once = await settled(id, await begin(id));
    expect(await channelsOf(id, versionId)).toEqual(await channelsOf(id, once['versionId']));

    // Adding is cancelled: all is as it was.
    const most = { ...plan, render: { ...plan['render'], samples: 65536 } };
    await call('PUT', `/shots/${id}/plan`, { revision: 2, label: 'Most', body: most });
    await call('POST', `/shots/${id}/renders/${versionId}/more`);
    expect((await call('POST', `/shots/${id}/renders/${versionId}/cancel`)).status).toBe(204);
    const left = await settled(id, versionId);
    expect(left).toMatchObject({ state: 'ready', problem: null });
    expect(left['jobs'].map((j: Json) => j['state'])).toEqual(['done', 'done']);
    expect(await pictures(id, versionId)).toHaveLength(1);

    expect((await call('DELETE', `/shots/${id}/renders/${versionId}/sums`)).status).toBe(204);
    const refused = await call('POST', `/shots/${id}/renders/${versionId}/more`);
    expect([refused.status, refused.body['title']]).toEqual([409, 'No samples can be added.']);
  }, 60_000);

  test('in parts, as several workers share a still, has the very same pixels; a worker that dies costs its part', async () => {
    const size = { width: 160, height: 96, samples: 64 };
    const { id } = await sceneShot('Parts', size, [cryptomatte, through]);
    const whole = await settled(id, await begin(id));
    const { body } = await call('POST', `/shots/${id}/renders`, { request: { what: 'all' }, parts: 4 });
    const versionId = body['versionId'] as string;
    await until(async () => {
      const [first] = (await renderOf(id, versionId))['jobs'].filter((j: Json) => j['state'] === 'done');
      return first as Json | undefined;
    });
    // As if the worker that has the next part had died.
    await database.query(
      `update job set claim = gen_random_uuid(), seen = now() - interval '1 hour'
       where version_id = $1 and state = 'running' and input ? 'band'`,
      [versionId],
    );
    const parts = await settled(id, versionId);
    expect(parts).toMatchObject({ state: 'ready', problem: null, unfinished: null });
    expect(parts['jobs'].map((j: Json) => [j['part'], j['state']])).toEqual([
      [1, 'done'],
      [2, 'done'],
      [3, 'done'],
      [4, 'done'],
      [null, 'done'],
    ]);
    const { rows } = await database.query<{ tries: number }>(
      `select tries from job where version_id = $1 and input ? 'band' order by (input->'band'->>'index')::int`,
      [versionId],
    );
    // The first one was not begun again.
    expect(rows[0]!.tries).toBe(1);
    expect(await channelsOf(id, versionId)).toEqual(await channelsOf(id, whole['versionId']));
    expect(parts['measured'][0].samples).toBe(64);
    // Of the parts nothing is left behind but what samples can be added to.
    const left = await database.query<{ name: string }>(
      `select name from file where version_id = $1 and role = 'sums'`,
      [versionId],
    );
    expect(left.rows.map((r) => r.name)).toEqual(['sums']);
  }, 120_000);

  test('shows the pass that one looks at in place of the picture', async () => {
    const { id } = await sceneShot('Looked at', LONG);
    const versionId = await begin(id);
    const job = await until(async () => {
      const [own] = (await renderOf(id, versionId))['jobs'];
      return own.look > 0 ? (own as Json) : undefined;
    });
    const look = async () => {
      const answer = await fetch(`${application.address}/api/jobs/${job['id']}/look`);
      const { data, channels } = decode(new Uint8Array(await answer.arrayBuffer()));
      return { data, channels };
    };
    const attention = { pass: 'a', area: { x0: 0, y0: 0, x1: 64, y1: 64 } };
    expect((await call('POST', `/jobs/${job['id']}/attention`, attention)).status).toBe(204);
    // A cryptomatte has one flat colour for each thing, and few pixels in which they mix.
    await until(async () => {
      const { data, channels } = await look();
      const colours = new Map<string, number>();
      for (let p = 0; p < data.length; p += channels) {
        const key = `${data[p]} ${data[p + 1]} ${data[p + 2]}`;
        colours.set(key, (colours.get(key) ?? 0) + 1);
      }
      const largest = [...colours.values()].sort((a, b) => b - a).slice(0, 8);
      return largest.reduce((a, b) => a + b, 0) > 0.8 * (data.length / channels) ? true : undefined;
    });
    expect((await call('POST', `/jobs/${job['id']}/attention`, { pass: 7 })).status).toBe(400);
  }, 60_000);
});

describe('what happens', () => {
  /** Runs something while the events are listened to, until they say what is waited for. */
  async function heardDuring(work: () => Promise<unknown>, end: (text: string) => boolean): Promise<string> {
    const stop = new AbortController();
    const response = await fetch(`${application.address}/api/events`, { signal: stop.signal });
    const reader = response.body!.getReader();
    let text = '';
    const heard = (async () => {
      while (!end(text)) {
        const { value, done } = await reader.read();
        if (done) break;
        text += new TextDecoder().decode(value);
      }
    })();
    await work();
    await heard;
    stop.abort();
    return text;
  }

  test('is told as server-sent events', async () => {
    let id = '';
    // What is still done for shots before is told meanwhile.
    const told = (text: string, event: string) =>
      text.split('\n\n').some((part) => part.includes(`event: ${event}\n`) && part.includes(id));
    const text = await heardDuring(
      async () => {
        id = (await shotOf('object_two_ranks.exr')).shot['id'] as string;
      },
      (heard) => id !== '' && told(heard, 'job') && told(heard, 'shot'),
    );
    expect(told(text, 'shot')).toBe(true);
    expect(told(text, 'job')).toBe(true);
  });

  test('to a job that goes with its version is told, too, and the server lives on', async () => {
    const { id } = await sceneShot('Gone', { width: 256, height: 160, samples: 65536 });
    const text = await heardDuring(
      async () => {
        const { versionId } = await render(id, { what: 'all' });
        await call('POST', `/shots/${id}/renders/${versionId}/cancel`);
      },
      (text) => text.includes('event: job-gone'),
    );
    expect(text).toMatch(/event: job-gone\ndata: \{"id":"[-0-9a-f]{36}"\}/);
    expect((await call('GET', '/health')).status).toBe(200);
    expect((await call('GET', `/shots/${id}/renders`)).body).toEqual([]);
  });
});

describe('what earlier versions have stored opens as of today:', () => {
  /** Lists as they were stored then. */
  const stored = [1, 2, 3, 4, 5, 6, 7].map((version) => {
    const path = new URL(`../../core/test/fixtures/documents/changes-v${version}.json`, import.meta.url);
    return { version, list: JSON.parse(readFileSync(path, 'utf8')) as ChangeList };
  });
  test.each(stored)('presets and named states of version $version', async ({ version, list }) => {
    const { corrections } = list.changes[0]!;
    const { rows: presets } = await database.query<{ id: string }>(
      'insert into preset (name, corrections, version) values ($1, $2, $3) returning id',
      [`Stored ${version}`, JSON.stringify(corrections), version],
    );
    const today = parseChangeList(list);
    const found = ((await call('GET', '/presets')).body as unknown as Json[]).find(
      (p) => p['id'] === presets[0]!.id,
    );
    expect(found).toMatchObject({ name: `Stored ${version}`, corrections: today.changes[0]!.corrections });
    await call('DELETE', `/presets/${presets[0]!.id}`);

    const { id } = (await call('POST', '/shots', { name: `Stored ${version}` })).body;
    const { rows: states } = await database.query<{ id: string }>(
      `insert into named_state (shot_id, kind, name, body) values ($1, 'changes', 'Approved', $2) returning id`,
      [id, JSON.stringify(list)],
    );
    const state = await call('GET', `/shots/${id}/changes/states/${states[0]!.id}`);
    expect(state.body).toEqual(today);
    expect(state.body['version']).toBe(7);
  });
  test('a job that waited through an update is done', async () => {
    const { version, shot } = await shotOf('all.exr');
    const { edge: _, ...old } = change('Brass');
    const input = { kind: 'corrected-exr', name: 'before', list: { ...list(old), version: 1 } };
    const { rows } = await database.query<{ id: string }>(
      `insert into job (kind, shot_id, version_id, input) values ('export', $1, $2, $3) returning id`,
      [shot['id'], version['id'], JSON.stringify(input)],
    );
    expect(await ended(rows[0]!.id)).toMatchObject({ state: 'done', result: { name: 'before.exr' } });
  });
});

describe('presets and pictures', () => {
  const corrections = [{ id: 'a', kind: 'exposure', on: true, values: { stops: 1 } }];

  test('a preset is kept, listed by name, and deleted', async () => {
    const made = await call('POST', '/presets', { name: ' Sunny ', corrections });
    expect([made.status, made.body['name'], made.body['corrections']]).toEqual([201, 'Sunny', corrections]);
    await call('POST', '/presets', { name: 'amber', corrections });
    const names = async () =>
      ((await call('GET', '/presets')).body as unknown as Json[]).map((p) => p['name'] as string);
    expect(await names()).toEqual(['amber', 'Sunny']);
    expect((await call('DELETE', `/presets/${made.body['id']}`)).status).toBe(204);
    expect((await call('DELETE', `/presets/${made.body['id']}`)).status).toBe(404);
    expect(await names()).toEqual(['amber']);
  });
  test.each([
    [{ name: 'x', corrections: [] }],
    [{ name: ' ', corrections }],
    [{ name: 'x', corrections: [{ ...corrections[0], kind: 'nothing' }] }],
    [{ name: 'x', corrections: [{ ...corrections[0], values: { stops: 'many' } }] }],
  ])('%j is refused', async (body) => expect((await call('POST', '/presets', body)).status).toBe(400));

  test('a picture to lay is kept with its shot; what is no picture is refused', async () => {
    const shot = (await call('POST', '/shots', { name: 'Label' })).body;
    const stored = await call('PUT', `/shots/${shot['id']}/pictures/label.png`, new Uint8Array([1, 2, 3]));
    expect([stored.status, stored.body['role'], stored.body['name']]).toEqual([201, 'fill', 'label.png']);
    const refused = await call('PUT', `/shots/${shot['id']}/pictures/label.txt`, new Uint8Array(3));
    expect([refused.status, refused.body['detail']]).toEqual([415, expect.stringContaining('PNG')]);
    // It belongs to no version.
    expect((await call('GET', `/shots/${shot['id']}`)).body['versions']).toEqual([]);
  });
});
