import { createHash } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import pg from 'pg';
import { writeWhole } from '@zesty-crow/core/node';
import type { ParcelCheck, ParcelRun, ParcelRunFile } from '../contract.ts';
import { samplePath } from '../../../core/test/fixtures/samples.ts';
import type { Application } from '../../../e2e/harness/application.ts';
import { startEmpty } from '../../../e2e/harness/database.ts';
import { callsOf, until, type Json } from '../../test/calls.ts';
import { folderWithin } from './allowed-folder.ts';
import { runBody } from './runs.ts';
import { parcelHome } from './start-run.ts';

/** Parcels from request to archive and folder, and what is made again after a change. */
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-hand-over-'));
let application: Application;
const { call } = callsOf(() => application);
beforeAll(async () => {
  application = await startEmpty({
    ZESTY_CROW_HAND_OVER: folder,
  });
}, 200_000);
afterAll(() => application.stop());

const change = (stops: number, more = {}) => ({
  id: 'smoker',
  words: 'Smoker',
  on: true,
  done: false,
  who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
  edge: [],
  fence: [],
  brush: [],
  plainEdges: true,
  corrections: [{ id: 'k', kind: 'exposure', on: true, values: { stops } }],
  ...more,
});
const parcel = (id: string, kind: string, settings: object, more = {}) => ({
  ...{ id, kind, title: id, frames: '', variants: [''], settings, folder: '' },
  ...{ name: '{parcel}/{shot}_{part}.{frame}', ...more },
});
async function save(shot: string, kind: string, body: object): Promise<void> {
  const { revision } = (await call('GET', `/shots/${shot}/${kind}`)).body;
  expect((await call('PUT', `/shots/${shot}/${kind}`, { revision, label: 'Test', body })).status).toBe(200);
}
const saveChanges = (shot: string, ...changes: object[]) =>
  save(shot, 'changes', { format: 'zesty-crow/changes', version: 7, headings: [], variants: [], changes });
const look = async (version: string) =>
  (await call('GET', `/versions/${version}/parcels`)).body as unknown as { checks: ParcelCheck[] };
const runs = async (version: string) =>
  (await call('GET', `/versions/${version}/parcels/runs`)).body as unknown as ParcelRun[];
/** Makes all parcels, and waits until they are where they go. */
async function make(version: string): Promise<ParcelRun & { made: ParcelRunFile[] }> {
  const { run } = (await call('POST', `/versions/${version}/parcels`, {})).body as { run: string };
  const ended = await until(async () => {
    const own = (await runs(version)).find((r) => r.id === run)!;
    const placed =
      !own.parcels.some((p) => p.folder) || own.placed?.state === 'done' || own.placed?.state === 'failed';
    return (own.ended && placed && own) || undefined;
  });
  return { ...ended, made: (await call('GET', `/runs/${run}/files`)).body as unknown as ParcelRunFile[] };
}

let shot: string;
let version: string;
test('a sequence is read', async () => {
  shot = (await call('POST', '/shots', { name: 'Hive' })).body['id'] as string;
  version = (await call('POST', `/shots/${shot}/versions`)).body['id'] as string;
  const bytes = new Uint8Array(readFileSync(samplePath('all.exr')));
  for (const frame of [1, 2])
    await call('PUT', `/versions/${version}/files/hive.000${frame}.exr?frame=${frame}`, bytes);
  await call('POST', `/versions/${version}/read`);
  await until(async () => {
    const { versions } = (await call('GET', `/shots/${shot}`)).body as { versions: Json[] };
    return versions[0]!['state'] === 'ready' || undefined;
  });
});

test('what would come of parcels is known before, and what stands against them', async () => {
  await saveChanges(
    shot,
    change(1),
    change(0.5, {
      ...{ id: 'wasp', words: 'Wasp in haze' },
      who: [{ mode: 'with', layer: 'CryptoObject', member: 'wasp' }],
      corrections: [{ id: 'h', kind: 'haze', on: true, values: { pass: 'far' } }],
    }),
  );
  await save(shot, 'parcels', {
    format: 'zesty-crow/parcels',
    version: 1,
    parcels: [
      parcel('picture', 'picture', { format: 'png8' }),
      parcel('twice', 'picture', { format: 'png8' }, { name: '{shot}' }),
      parcel('elsewhere', 'masks', {}, { folder: '/etc' }),
      parcel('frames', 'masks', {}, { frames: 'one' }),
      parcel('nobody', 'masks', { of: 'members', members: 'wasp' }),
    ],
  });
  const [picture, twice, elsewhere, frames, nobody] = (await look(version)).checks;
  expect(picture).toMatchObject({ files: 2, toMake: 2, faults: [] });
  expect(picture!.names).toEqual(['picture/hive.0001.png', 'picture/hive.0002.png']);
  expect(picture!.notes).toEqual([
    'wasp cannot be seen in any frame.',
    'The mask of “Wasp in haze” is empty in every frame.',
    '“Wasp in haze” needs the pass far, which this version has not: that correction is left out.',
  ]);
  expect(nobody!.notes).toEqual(['wasp cannot be seen in any frame.']);
  expect(twice!.faults.join()).toContain('Several files would be called hive.png');
  expect(elsewhere!.faults.join()).toContain('not inside a folder that was allowed');
  expect(frames!.faults.join()).toContain('“one” names no frames');
  const refused = await call('POST', `/versions/${version}/parcels`, { parcels: ['frames'] });
  expect(refused.status).toBe(400);
});

test('a version of passes alone is told to have no picture before anything is made', async () => {
  const other = (await call('POST', '/shots', { name: 'Passes' })).body['id'] as string;
  const own = (await call('POST', `/shots/${other}/versions`)).body['id'] as string;
  const bytes = new Uint8Array(readFileSync(samplePath('object_only_zips.exr')));
  await call('PUT', `/versions/${own}/files/ids.exr`, bytes);
  await call('POST', `/versions/${own}/read`);
  await save(other, 'parcels', {
    format: 'zesty-crow/parcels',
    version: 1,
    parcels: [parcel('picture', 'picture', {}), parcel('ids', 'id-passes', {})],
  });
  const checks = await until(async () => {
    const { versions } = (await call('GET', `/shots/${other}`)).body as { versions: Json[] };
    return versions[0]!['state'] === 'ready' ? (await look(own)).checks : undefined;
  });
  expect(checks.map((c) => c.faults)).toEqual([['This version holds no picture, only data passes.'], []]);
});

test('they are made, archived with their sums, and put into their folder', async () => {
  await saveChanges(shot, change(1));
  await save(shot, 'parcels', {
    format: 'zesty-crow/parcels',
    version: 1,
    parcels: [
      parcel('picture', 'picture', { format: 'png8', dither: false }),
      parcel('masks', 'masks', {}, { folder: join(folder, 'job') }),
      parcel('ids', 'id-passes', {}, { frames: '2' }),
    ],
  });
  const run = await make(version);
  expect(run.failed).toEqual([]);
  expect(run.made.map((f) => [f.name, f.against])).toEqual([
    ['ids/hive_ids.0002.exr', 'new'],
    ['masks/hive_smoker.0001.png', 'new'],
    ['masks/hive_smoker.0002.png', 'new'],
    ['picture/hive.0001.png', 'new'],
    ['picture/hive.0002.png', 'new'],
  ]);
  const response = await fetch(`${application.address}/api/runs/${run.id}/archive`);
  writeFileSync(join(folder, 'run.zip'), Buffer.from(await response.arrayBuffer()));
  execFileSync('python3', ['-m', 'zipfile', '-e', join(folder, 'run.zip'), join(folder, 'unpacked')]);
  for (const place of [join(folder, 'unpacked'), join(folder, 'job')]) {
    const { files } = JSON.parse(readFileSync(join(place, 'manifest.json'), 'utf8')) as {
      files: { name: string; sha256: string }[];
    };
    expect(files.length).toBe(place.endsWith('job') ? 2 : 5);
    for (const { name, sha256 } of files)
      expect(
        createHash('sha256')
          .update(readFileSync(join(place, name)))
          .digest('hex'),
      ).toBe(sha256);
    const checked = execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: place, encoding: 'utf8' });
    expect(checked.trim().split('\n')).toHaveLength(files.length);
  }
  expect(readdirSync(join(folder, 'job', 'masks')).some((n) => n.endsWith('.part'))).toBe(false);
});

test('again only what changed is made: a change limited to a frame is another picture there alone', async () => {
  const before = await make(version);
  expect([before.files, before.reused, before.jobs]).toEqual([5, 5, 0]);
  expect(new Set(before.made.map((f) => f.against))).toEqual(new Set(['same']));
  await saveChanges(
    shot,
    change(1),
    change(-1, {
      id: 'more',
      frames: { first: 2, last: 2 },
      who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/cloth' }],
    }),
  );
  const after = await make(version);
  const made = after.made.filter((f) => !f.reused).map((f) => f.name);
  expect(made.filter((n) => n.startsWith('picture/'))).toEqual(['picture/hive.0002.png']);
  expect(made.some((n) => n.startsWith('ids/'))).toBe(false);
  expect(after.made.find((f) => f.name === 'picture/hive.0002.png')!.against).toBe('changed');
  expect(after.made.find((f) => f.name === 'picture/hive.0001.png')!.against).toBe('same');
});

describe('a folder', () => {
  const one = (existing: string, settings: object) =>
    save(shot, 'parcels', {
      format: 'zesty-crow/parcels',
      version: 1,
      parcels: [
        parcel(
          'cut',
          'picture',
          { format: 'png8', ...settings },
          { folder: join(folder, existing), existing },
        ),
      ],
    });
  const names = (...path: string[]) => readdirSync(join(folder, ...path)).sort();
  const sums = (...path: string[]) =>
    (
      JSON.parse(readFileSync(join(folder, ...path, 'manifest.json'), 'utf8')) as {
        files: { name: string }[];
      }
    ).files.map((f) => f.name);

  test('gets a numbered one in it each time, where that is wanted; one that was not finished is filled again', async () => {
    await one('number', { crop: '8x8+0+0' });
    expect((await look(version)).checks[0]!.notes.join()).toContain('Goes to');
    await make(version);
    await one('number', { crop: '8x9+0+0' });
    mkdirSync(join(folder, 'number', '0002'));
    await make(version);
    expect(names('number')).toEqual(['0001', '0002']);
    expect(names('number', '0002')).toEqual(['SHA256SUMS', 'cut', 'manifest.json']);
  });

  test('keeps what is there where that is wanted, whole: nothing is written', async () => {
    await one('stop', { crop: '8x8+0+0' });
    expect((await make(version)).placed!.state).toBe('done');
    const before = readFileSync(join(folder, 'stop', 'cut', 'hive.0001.png'));
    await one('stop', { crop: '8x9+0+0' });
    expect((await look(version)).checks[0]!.notes.join()).toContain('2 files are there already');
    const refused = await make(version);
    expect(refused.placed).toMatchObject({ state: 'failed' });
    expect(refused.placed!.message).toContain('Nothing was written');
    expect(readFileSync(join(folder, 'stop', 'cut', 'hive.0001.png')).equals(before)).toBe(true);
  });

  test('whose list is somebody else’s keeps that, and ours gets a number', async () => {
    const foreign = join(folder, 'foreign');
    mkdirSync(foreign);
    writeFileSync(join(foreign, 'manifest.json'), '{"name":"a web page"}');
    for (const existing of ['stop', 'replace']) {
      await save(shot, 'parcels', {
        format: 'zesty-crow/parcels',
        version: 1,
        parcels: [parcel(existing, 'masks', {}, { folder: foreign, existing })],
      });
      expect((await make(version)).placed!.state).toBe('done');
    }
    expect(readFileSync(join(foreign, 'manifest.json'), 'utf8')).toBe('{"name":"a web page"}');
    // What may be replaced is a list of ours, which then tells of both.
    expect(names('foreign').filter((n) => n !== 'stop' && n !== 'replace')).toEqual([
      ...['SHA256SUMS.2', 'manifest.2.json', 'manifest.json'],
    ]);
    execFileSync('sha256sum', ['-c', 'SHA256SUMS.2'], { cwd: foreign });
    // Two masks in two frames, twice.
    expect(readFileSync(join(foreign, 'SHA256SUMS.2'), 'utf8').trim().split('\n')).toHaveLength(8);
  });

  test('is not given a file that is called like its list', async () => {
    await save(shot, 'parcels', {
      format: 'zesty-crow/parcels',
      version: 1,
      parcels: [parcel('papers', 'papers', { cdl: false }, { name: 'Manifest' })],
    });
    expect((await look(version)).checks[0]!.faults.join()).toContain(
      'is what the list of all files is called',
    );
  });

  test('has a list of all that lies there, whoever put it there', async () => {
    await one('replace', { crop: '8x8+0+0' });
    await make(version);
    await save(shot, 'parcels', {
      format: 'zesty-crow/parcels',
      version: 1,
      parcels: [parcel('sums', 'masks', {}, { folder: join(folder, 'replace') })],
    });
    await make(version);
    expect(new Set(sums('replace').map((n) => n.split('/')[0]))).toEqual(new Set(['cut', 'sums']));
  });
});

test('what was handed over can be deleted; files that another run took from it stay', async () => {
  const first = await make(version);
  const second = await make(version);
  expect(second.reused).toBe(second.files);
  const { fileId } = second.made[0]!;
  expect((await call('DELETE', `/runs/${first.id}`)).status).toBe(204);
  expect((await runs(version)).some((r) => r.id === first.id)).toBe(false);
  const served = () => fetch(`${application.address}/api/files/${fileId}`);
  expect((await served()).status).toBe(200);
  for (const { id, ended } of await runs(version)) {
    expect(ended).not.toBeNull();
    await call('DELETE', `/runs/${id}`);
  }
  expect((await served()).status).toBe(404);
  expect((await call('DELETE', `/runs/${first.id}`)).status).toBe(404);
  expect((await make(version)).reused).toBe(0);
});

test('what was made before numbers were mended is made again, and why is told', async () => {
  await saveChanges(
    shot,
    change(1, { corrections: [{ id: 'g', kind: 'gamma', on: true, values: { gamma: 1.5 } }] }),
  );
  await save(shot, 'parcels', {
    format: 'zesty-crow/parcels',
    version: 1,
    parcels: [parcel('picture', 'picture', { format: 'png8' })],
  });
  expect((await make(version)).files).toBe(2);
  expect((await look(version)).checks[0]).toMatchObject({ toMake: 0, notes: [] });
  // The files as an earlier Zesty Crow would have left them: known by what had not been mended then.
  const pool = new pg.Pool({ connectionString: application.database });
  const home = await parcelHome(pool, { id: version, shot_id: shot, number: 1 });
  for (const frame of [1, 2]) {
    const key = (back: number) => home.keyOf(home.parcels[0]!, { variant: '', frame }, back);
    await pool.query('update parcel_file set key = $1 where key = $2', [key(1), key(0)]);
  }
  await pool.end();
  expect((await look(version)).checks[0]).toMatchObject({
    toMake: 2,
    notes: ['2 frames were made before the calculation of Gamma was corrected, and will be made again.'],
  });
  expect((await make(version)).reused).toBe(0);
  expect((await look(version)).checks[0]).toMatchObject({ toMake: 0, notes: [] });
});

test('a folder outside of those that are allowed is refused, also through a link', async () => {
  mkdirSync(join(folder, 'in'));
  symlinkSync('/etc', join(folder, 'in', 'link'));
  expect(await folderWithin([folder], join(folder, 'in', 'new', 'deep'))).toBe(
    join(folder, 'in', 'new', 'deep'),
  );
  await expect(folderWithin([folder], join(folder, 'in', 'link'))).rejects.toThrow('not inside a folder');
  await expect(folderWithin([folder], join(folder, '..'))).rejects.toThrow('not inside a folder');
  await expect(folderWithin([], folder)).rejects.toThrow('ZESTY_CROW_HAND_OVER');
});

test('what is interrupted leaves nothing under the final name', async () => {
  const path = join(folder, 'half.bin');
  async function* broken() {
    yield Buffer.from('half');
    await Promise.resolve();
    throw new Error('gone');
  }
  const placing = { root: folder, writer: 'own', since: new Date() };
  // Somebody else's unfinished file, and the links that an attacker would lay.
  writeFileSync(`${path}.part`, 'foreign');
  const before = readdirSync(folder);
  await expect(writeWhole(path, { size: 8, sha256: '' }, broken(), placing)).rejects.toThrow('gone');
  expect(readdirSync(folder)).toEqual(before);
  expect(readFileSync(`${path}.part`, 'utf8')).toBe('foreign');
});

test('nothing is written through a link, neither a folder nor a file', async () => {
  const outside = mkdtempSync(join(tmpdir(), 'zesty-crow-outside-'));
  const root = join(folder, 'linked');
  mkdirSync(root);
  symlinkSync(outside, join(root, 'away'));
  writeFileSync(join(outside, 'kept.bin'), 'kept');
  symlinkSync(join(outside, 'kept.bin'), join(root, '.a.bin.own.part'));
  const placing = { root, writer: 'own', since: new Date(0) };
  const bytes = Buffer.from('honey');
  const file = { size: 5, sha256: createHash('sha256').update(bytes).digest('hex') };
  const put = (name: string) => writeWhole(join(root, name), file, Readable.from([bytes]), placing);
  await expect(put('away/deep/a.bin')).rejects.toThrow('leads out of');
  await expect(put('away/a.bin')).rejects.toThrow('leads out of');
  expect(readdirSync(outside)).toEqual(['kept.bin']);
  expect(await put('a.bin')).toBe(true);
  expect(readFileSync(join(outside, 'kept.bin'), 'utf8')).toBe('kept');
  expect(readdirSync(root).sort()).toEqual(['a.bin', 'away']);
  // Taken up again it is its own; for who comes later it was there.
  expect(await put('a.bin')).toBe(true);
  const later = { ...placing, since: new Date(Date.now() + 1000) };
  expect(await writeWhole(join(root, 'a.bin'), file, Readable.from([bytes]), later)).toBe(false);
  rmSync(outside, { recursive: true });
});

describe('a run', () => {
  let client: pg.Client;
  beforeAll(async () => {
    client = new pg.Client({ connectionString: application.database });
    await client.connect();
    await save(shot, 'parcels', {
      format: 'zesty-crow/parcels',
      version: 1,
      parcels: [
        parcel('whole', 'picture', { format: 'png16' }),
        parcel('half', 'picture', { format: 'exr' }),
      ],
    });
  });
  afterAll(() => client.end());
  const begin = () => call('POST', `/versions/${version}/parcels`, {});

  test('is recorded with all of its jobs, or not at all', async () => {
    const before = (await runs(version)).map((r) => r.id);
    await client.query(`
      create function refuse() returns trigger language plpgsql as
        $$ begin if new.frame = 2 then raise exception 'no'; end if; return new; end $$;
      create trigger refuse before insert on job for each row execute function refuse()`);
    expect((await begin()).status).toBe(500);
    await client.query('drop trigger refuse on job; drop function refuse()');
    expect((await runs(version)).map((r) => r.id)).toEqual(before);
    const { rows } = await client.query(`select 1 from job where kind = 'parcel' and state = 'waiting'`);
    expect(rows).toEqual([]);
  });

  test('that is cancelled has ended, whatever its jobs were doing; it can be downloaded and deleted', async () => {
    await saveChanges(shot, change(1.7));
    const { run } = (await begin()).body as { run: string };
    expect((await call('POST', `/runs/${run}/cancel`)).status).toBe(204);
    const own = (await runs(version)).find((r) => r.id === run)!;
    expect(own.ended).not.toBeNull();
    const { rows } = await client.query<{ state: string }>(
      `select state from job where input->>'run' = $1 and state in ('waiting', 'running')`,
      [run],
    );
    expect(rows).toEqual([]);
    const archive = await fetch(`${application.address}/api/runs/${run}/archive`, {
      headers: { range: 'bytes=0-3' },
    });
    expect([archive.status, archive.headers.get('accept-ranges')]).toEqual([200, 'none']);
    await archive.arrayBuffer();
    expect((await call('DELETE', `/runs/${run}`)).status).toBe(204);
    expect((await call('POST', `/runs/${run}/cancel`)).status).toBe(404);
  });

  test('that was begun before an update goes on as it was meant then', async () => {
    const old = { ...parcel('old', 'picture', {}), id: 'old' };
    const { rows } = await client.query<{ id: string }>(
      'insert into parcel_run (shot_id, version_id, body) values ($1, $2, $3) returning id',
      [shot, version, { shot: 'Old', version: 1, frames: [1], list: {}, parcels: [old] }],
    );
    const body = await runBody(client as never, rows[0]!.id);
    expect(body!.parcels).toEqual([{ ...old, settings: { window: 'data' } }]);
    await client.query('delete from parcel_run where id = $1', [rows[0]!.id]);
  });

  test('does not have what it was asked for told with every job', async () => {
    const answer = await call('POST', `/versions/${version}/exports`, {
      kind: 'picture',
      frame: 1,
      list: {},
    });
    expect(JSON.stringify((await call('GET', '/jobs')).body)).not.toContain('"input"');
    expect(answer.body['input']).toBeUndefined();
  });
});
