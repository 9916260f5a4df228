import { readFileSync } from 'node:fs';
import pg from 'pg';
import { readExr } from '@zesty-crow/core/formats/exr';
import { buildIdIndex, unpackIndex } from '@zesty-crow/core/idindex';
import { loadIdLayers } from '@zesty-crow/core/idlayers';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { startServer, type Application } from '../../e2e/harness/application.ts';
import { makeDatabase, type TestDatabase } from '../../e2e/harness/database.ts';
import { callsOf, until, type Json } from '../test/calls.ts';

/** What opening would have to compute is made beforehand, and is never worth more than the file. */
let database: TestDatabase;
let application: Application;
let client: pg.Client;
const { call } = callsOf(() => application);
const bytesOf = (name: string) => new Uint8Array(readFileSync(samplePath(name)));

const start = async () => {
  application = await startServer(database.url, { SEED_DEMO: '0', PREPARED_MB: '1' });
  client = new pg.Client({ connectionString: application.database });
  await client.connect();
};
const stop = async () => {
  await client.end();
  await application.stop();
};
beforeAll(async () => {
  database = await makeDatabase('empty');
  await start();
});
afterAll(async () => {
  await stop();
  await database.drop();
});

async function shotOf(files: [string, Uint8Array][]): Promise<{ shot: string; version: string }> {
  const shot = (await call('POST', '/shots', { name: 'Hive' })).body['id'] as string;
  const version = (await call('POST', `/shots/${shot}/versions`)).body['id'] as string;
  for (const [name, bytes] of files) await call('PUT', `/versions/${version}/files/${name}`, bytes);
  await call('POST', `/versions/${version}/read`);
  await until(async () => {
    const { versions } = (await call('GET', `/shots/${shot}`)).body as { versions: Json[] };
    return versions[0]!['state'] === 'ready' || undefined;
  });
  return { shot, version };
}
const indexOf = async (version: string, layer: string) => {
  const response = await fetch(`${application.address}/api/versions/${version}/index?layer=${layer}`);
  return { status: response.status, bytes: new Uint8Array(await response.arrayBuffer()) };
};
const filesOf = async (shot: string) =>
  ((await call('GET', `/shots/${shot}`)).body as { versions: { files: Json[] }[] }).versions[0]!.files;

test('once a version is read, its index is there, and is that of the file', async () => {
  const { version } = await shotOf([['hive.exr', bytesOf('all.exr')]]);
  const layers = loadIdLayers(readExr(bytesOf('all.exr'))).layers;
  for (const layer of layers) {
    const { status, bytes } = await indexOf(version, layer.name);
    expect(status).toBe(200);
    expect(unpackIndex(bytes, 640, 360)).toEqual(buildIdIndex(layer.planes!));
  }
  expect((await indexOf(version, 'Teapots')).status).toBe(204);
  expect((await indexOf(version, '')).status).toBe(400);
  expect((await call('GET', `/versions/${version}/index?layer=a&frame=x`)).status).toBe(400);
});

test('two small pictures are kept; one no wider than 1920 pixels stays as it is', async () => {
  const { shot } = await shotOf([['hive.exr', bytesOf('all.exr')]]);
  const files = await filesOf(shot);
  expect(files.map((f) => f['role']).sort()).toEqual(['picture', 'preview', 'preview-large']);
  const large = files.find((f) => f['role'] === 'preview-large')!;
  const response = await fetch(`${application.address}/api/files/${large['id']}`);
  // Width and height stand in the first chunk of a PNG.
  const png = new DataView(await response.arrayBuffer());
  expect([png.getUint32(16), png.getUint32(20)]).toEqual([640, 360]);
});

test('a manifest that comes later gives names, and the index stays', async () => {
  const bare = await shotOf([['hive.exr', bytesOf('object_sidecar.exr')]]);
  const named = await shotOf([
    ['hive.exr', bytesOf('object_sidecar.exr')],
    ['sidecar.json', bytesOf('sidecar.json')],
  ]);
  const [a, b] = [await indexOf(bare.version, 'CryptoObject'), await indexOf(named.version, 'CryptoObject')];
  expect(a.status).toBe(200);
  expect(Buffer.compare(a.bytes, b.bytes)).toBe(0);
  const { rows } = await client.query<{ sums: number }>(
    'select count(distinct sums)::int as sums from prepared where version_id = any($1)',
    [[bare.version, named.version]],
  );
  expect(rows[0]!.sums).toBe(1);
});

test('what was asked for longest ago goes when there is too much; a version takes its own with it', async () => {
  const { version } = await shotOf([['hive.exr', bytesOf('object_rle.exr')]]);
  await client.query(
    `insert into prepared (version_id, sums, layer, what, format, bytes, size, used)
     select $1, 'old', 'layer', 'index', 1, '\\x00', 1000000, now() - interval '1 day'`,
    [version],
  );
  const later = await shotOf([['hive.exr', bytesOf('object_rle.exr')]]);
  const { rows } = await client.query(`select 1 from prepared where sums = 'old'`);
  expect(rows).toEqual([]);
  expect((await indexOf(later.version, 'CryptoObject')).status).toBe(200);
  await client.query('delete from version where id = $1', [later.version]);
  const left = await client.query('select 1 from prepared where version_id = $1', [later.version]);
  expect(left.rows).toEqual([]);
});

test('frames are prepared behind the scenes, their indexes when somebody opens them', async () => {
  const bytes = bytesOf('object_rle.exr');
  const { shot, version } = await shotOf([['hive.0001.exr', bytes]]);
  // Brought in as the second frame of a sequence.
  await client.query(
    `with f as (insert into file (shot_id, version_id, role, frame, name, media_type, size, sha256)
       select shot_id, version_id, role, 2, 'hive.0002.exr', media_type, size, 'other' from file
       where version_id = $1 and role = 'picture' returning id)
     insert into file_chunk select f.id, c.number, c.bytes from f, file_chunk c
       join file o on o.id = c.file_id where o.version_id = $1 and o.role = 'picture' and o.frame is distinct from 2`,
    [version],
  );
  await client.query(`update file set frame = 1 where version_id = $1 and name = 'hive.0001.exr'`, [version]);
  const second = `/versions/${version}/index?layer=CryptoObject&frame=2`;
  expect((await call('GET', second)).status).toBe(204);
  await until(async () => (await call('GET', second)).status === 200 || undefined);
  const previews = (await filesOf(shot)).filter((f) => f['role'] === 'preview-large' && f['frame'] === 2);
  expect(previews).toHaveLength(1);
});

test('versions of before are prepared after a start', async () => {
  const { shot, version } = await shotOf([['hive.exr', bytesOf('object_rle.exr')]]);
  await client.query('delete from prepared where version_id = $1', [version]);
  await client.query(`delete from file where version_id = $1 and role = 'preview-large'`, [version]);
  await stop();
  await start();
  await until(async () => (await indexOf(version, 'CryptoObject')).status === 200 || undefined);
  expect((await filesOf(shot)).map((f) => f['role'])).toContain('preview-large');
});
