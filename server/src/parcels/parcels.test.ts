import { createHash } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ParcelCheck, ParcelRun, ParcelRunFile } from '../contract.ts';
import { samplePath } from '../../../core/test/fixtures/samples.ts';
import { startApplication, type Application } from '../../../e2e/harness/application.ts';
import { callsOf, until, type Json } from '../../test/calls.ts';
import { folderWithin, writeWhole } from './folder.ts';

/** Parcels from request to archive and folder, and what is made again after a change. */
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-hand-over-'));
let application: Application;
const { call } = callsOf(() => application);
beforeAll(async () => {
  application = await startApplication(mkdtempSync(join(tmpdir(), 'zesty-crow-parcels-')), {
    SEED_DEMO: '0',
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
  save(shot, 'changes', { format: 'zesty-crow/changes', version: 6, headings: [], variants: [], changes });
const look = async (version: string) =>
  (await call('GET', `/versions/${version}/parcels`)).body as unknown as {
    checks: ParcelCheck[];
    runs: ParcelRun[];
  };
/** Makes all parcels, and waits until they are where they go. */
async function make(version: string): Promise<ParcelRun & { made: ParcelRunFile[] }> {
  const { run } = (await call('POST', `/versions/${version}/parcels`, {})).body as { run: string };
  const ended = await until(async () => {
    const own = (await look(version)).runs.find((r) => r.id === run)!;
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
    change(0.5, { id: 'wasp', who: [{ mode: 'with', layer: 'CryptoObject', member: 'wasp' }] }),
  );
  await save(shot, 'parcels', {
    format: 'zesty-crow/parcels',
    version: 1,
    parcels: [
      parcel('picture', 'picture', { format: 'png8' }),
      parcel('twice', 'picture', { format: 'png8' }, { name: '{shot}' }),
      parcel('elsewhere', 'masks', {}, { folder: '/etc' }),
      parcel('frames', 'masks', {}, { frames: 'one' }),
    ],
  });
  const [picture, twice, elsewhere, frames] = (await look(version)).checks;
  expect(picture).toMatchObject({ files: 2, toMake: 2, faults: [] });
  expect(picture!.names).toEqual(['picture/hive.0001.png', 'picture/hive.0002.png']);
  expect(picture!.notes.join()).toContain('wasp cannot be seen');
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
  await expect(writeWhole(path, { size: 8, sha256: '' }, broken())).rejects.toThrow('gone');
  expect([existsSync(path), existsSync(`${path}.part`)]).toEqual([false, false]);
});
