import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { openFolder, startWhole } from '../../e2e/harness/application.ts';
import { makeDatabase } from '../../e2e/harness/database.ts';
import { processesOf } from '../../e2e/harness/processes.ts';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { callsOf } from '../test/calls.ts';

/** The data folder is moved, copied, backed up, and met by other versions: nothing of it may be lost. */
const HOUSE = fileURLToPath(new URL('../..', import.meta.url));
const root = openFolder('folders');
const made: string[] = [root];
const running: ChildProcess[] = [];
afterAll(async () => {
  const left = running.filter((child) => child.exitCode === null && child.signalCode === null);
  await Promise.all(left.map((child) => new Promise((over) => child.once('exit', over).kill('SIGTERM'))));
  for (const folder of made) rmSync(folder, { recursive: true, force: true });
});

/** A data folder that does not exist yet; if closed, only its owner may enter, and its cluster lies elsewhere. */
function newFolder(name: string, closed = false): string {
  const folder = join(root, name);
  mkdirSync(folder);
  if (closed) chmodSync(folder, 0o700);
  return folder;
}
/** Where the cluster of a closed folder lies; it is deleted in the end. */
function elsewhere(folder: string): string {
  const place = readlinkSync(join(folder, 'postgres'));
  made.push(place);
  return place;
}

interface Cluster {
  url: string;
  said: string;
  stop(): Promise<void>;
}
/** Runs the database of a data folder, as the start does; rejects with what it says if it does not start. */
function startCluster(folder: string): Promise<Cluster> {
  const program = `
    import { startPostgres } from '${HOUSE}/scripts/postgres.mjs';
    const database = await startPostgres(process.env.FOLDER).catch((e) => (console.log(e.message), process.exit(1)));
    console.log('url ' + database.url);
    process.on('SIGTERM', () => void database.stop().then(() => process.exit()));`;
  const child = spawn(process.execPath, ['--input-type=module', '-e', program], {
    cwd: HOUSE,
    env: { ...process.env, FOLDER: folder },
  });
  running.push(child);
  return new Promise((resolve, reject) => {
    let said = '';
    const hear = (text: Buffer) => {
      said += String(text);
      const url = /url (\S+)/.exec(said)?.[1];
      if (!url) return;
      const stop = () =>
        new Promise<void>((over) => {
          child.once('exit', () => over());
          child.kill('SIGTERM');
        });
      resolve({ url, said, stop });
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('exit', () => reject(new Error(said)));
  });
}
async function ask(url: string, sql: string): Promise<unknown[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query<Record<string, unknown>>(sql)).rows.flatMap((r) => Object.values(r));
  } finally {
    await client.end();
  }
}
/** A cluster in which a honey is noted. */
async function withHoney(folder: string, honey: string): Promise<void> {
  const { url, stop } = await startCluster(folder);
  await ask(url, `create table honey as select '${honey}' as name`);
  await stop();
}
const honeyIn = (url: string) => ask(url, 'select name from honey');

describe('a folder that only its owner may enter', () => {
  test('is moved aside: what begins in its place is new, and the moved one has everything', async () => {
    const folder = newFolder('closed', true);
    await withHoney(folder, 'acacia');
    elsewhere(folder);
    renameSync(folder, `${folder}.old`);
    mkdirSync(folder, { mode: 0o700 });
    const anew = await startCluster(folder);
    expect(await ask(anew.url, `select to_regclass('honey')`)).toEqual([null]);
    await anew.stop();
    elsewhere(folder);
    const moved = await startCluster(`${folder}.old`);
    expect(moved.said).toContain('was moved here');
    expect(await honeyIn(moved.url)).toEqual(['acacia']);
    await moved.stop();
  });

  test('is copied: the copy is refused with what to do, until the original is gone', async () => {
    const folder = newFolder('original', true);
    await withHoney(folder, 'linden');
    elsewhere(folder);
    spawnSync('cp', ['-a', folder, `${folder}.copy`]);
    await expect(startCluster(`${folder}.copy`)).rejects.toThrow(/is a copy of .*original.*npm run backup/s);
    const original = await startCluster(folder);
    expect(await honeyIn(original.url)).toEqual(['linden']);
    await original.stop();
    rmSync(folder, { recursive: true });
    const copy = await startCluster(`${folder}.copy`);
    expect(await honeyIn(copy.url)).toEqual(['linden']);
    await copy.stop();
  });
});

test('a copy that was made while the original ran works on its own files, whoever owns them, at a port of its own', async () => {
  const folder = newFolder('open');
  await withHoney(folder, 'chestnut');
  const original = await startCluster(folder);
  const copy = `${folder}.copy`;
  spawnSync('cp', ['-r', folder, copy]);
  const own = await startCluster(copy);
  expect(new URL(own.url).port).not.toBe(new URL(original.url).port);
  await ask(own.url, `insert into honey values ('heather')`);
  expect(await honeyIn(own.url)).toEqual(['chestnut', 'heather']);
  expect(await honeyIn(original.url)).toEqual(['chestnut']);
  expect(statSync(join(copy, 'postgres/base')).uid).toBe(statSync(join(folder, 'postgres/base')).uid);
  await own.stop();
  expect(await honeyIn(original.url)).toEqual(['chestnut']);
  await original.stop();
});

test('what the database is reached by can be lost; the database itself cannot be overlooked', async () => {
  const folder = newFolder('lost');
  await withHoney(folder, 'forest');
  rmSync(join(folder, 'database.json'));
  const again = await startCluster(folder);
  expect(await honeyIn(again.url)).toEqual(['forest']);
  await again.stop();
  renameSync(join(folder, 'postgres'), join(folder, 'away'));
  await expect(startCluster(folder)).rejects.toThrow(/is not where it was.*restore a backup/s);
  expect(readdirSync(folder).sort()).toEqual(['away', 'database.json']);
});

test('a start that fails after its database came up ends that, too, and tells no password', async () => {
  const folder = newFolder('failing');
  const first = await startCluster(folder);
  const { password } = new URL(first.url);
  await ask(first.url, 'drop database postgres with (force)');
  await first.stop();
  const failed = await startCluster(folder).then(
    () => 'It started.',
    (error: Error) => error.message,
  );
  expect(failed).toMatch(/does not start/);
  expect(failed).not.toContain(password);
  expect(processesOf(folder, 'postgres')).toEqual([]);
});

describe('a backup', () => {
  const data = newFolder('backed-up');
  const file = join(root, 'backup.tar');
  const npm = (verb: string, folder: string, ...args: string[]) =>
    spawnSync('npm', ['run', '--silent', verb, ...args], {
      cwd: HOUSE,
      env: { ...process.env, ZESTY_CROW_DATA: folder },
      encoding: 'utf8',
    });

  test('made while the application runs, and restored, is the same work', async () => {
    const application = await startWhole(data, { SEED_DEMO: '0' });
    const { call, ended } = callsOf(() => application);
    const shot = (await call('POST', '/shots', { name: 'Honey on a shelf' })).body;
    const version = (await call('POST', `/shots/${shot['id']}/versions`)).body;
    const bytes = new Uint8Array(readFileSync(samplePath('all.exr')));
    const stored = (await call('PUT', `/versions/${version['id']}/files/all.exr`, bytes)).body;
    await ended((await call('POST', `/versions/${version['id']}/read`)).body['id'] as string);
    const all = async (at: string) => {
      const get = async (path: string) => (await fetch(`${at}/api${path}`)).text();
      const pixels = await (await fetch(`${at}/api/files/${stored['id']}`)).arrayBuffer();
      return [
        await get(`/shots/${shot['id']}`),
        await get(`/shots/${shot['id']}/changes`),
        new Uint8Array(pixels),
      ];
    };
    const before = await all(application.address);
    expect(before[2]).toEqual(bytes);
    expect(npm('backup', data, file)).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('Backed up'),
    });
    // What comes after it is not in it.
    await call('POST', '/shots', { name: 'Too late' });
    await application.stop();

    const empty = newFolder('restored');
    expect(npm('restore', empty, file)).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('Restored'),
    });
    const again = await startWhole(empty, { SEED_DEMO: '0' });
    expect(await all(again.address)).toEqual(before);
    expect(await (await fetch(`${again.address}/api/shots`)).json()).toHaveLength(1);
    await again.stop();
  });

  test('is read by others, overwrites nothing, and is not restored over anything', () => {
    expect(spawnSync('tar', ['tf', file], { encoding: 'utf8' }).stdout.split('\n')).toEqual([
      ...['database.dump', 'backup.json'],
      '',
    ]);
    const before = statSync(file).mtimeMs;
    expect(npm('backup', data, file)).toMatchObject({
      status: 1,
      stdout: expect.stringContaining('already a file'),
    });
    expect(statSync(file).mtimeMs).toBe(before);
    expect(npm('restore', data, file)).toMatchObject({
      status: 1,
      stdout: expect.stringContaining('holds something'),
    });
    const notes = newFolder('notes');
    writeFileSync(join(notes, 'notes.txt'), 'mine');
    expect(npm('restore', notes, file).stdout).toContain('holds something');
    expect(readdirSync(notes)).toEqual(['notes.txt']);
  });

  test('that is damaged, cut short, or none is refused, and leaves nothing', () => {
    const empty = newFolder('empty');
    const bytes = readFileSync(file);
    const tried = (name: string, content: Buffer) => {
      writeFileSync(join(root, name), content);
      const { status, stdout } = npm('restore', empty, join(root, name));
      expect(status).toBe(1);
      expect(readdirSync(empty)).toEqual([]);
      expect(readdirSync(root).filter((n) => n.includes('restoring'))).toEqual([]);
      return stdout;
    };
    const flipped = Buffer.from(bytes);
    flipped[flipped.length >> 1]! ^= 1;
    expect(tried('flipped.tar', flipped)).toContain('its sum is not the one');
    expect(tried('short.tar', bytes.subarray(0, bytes.length - 4000))).toContain('its end is missing');
    expect(tried('text.tar', Buffer.from('honey'))).toContain('is no backup');
    truncateSync(join(root, 'text.tar'), 0);
    expect(npm('restore', empty, join(root, 'nowhere.tar')).stdout).toContain('cannot be read');
  });
});

describe('a database that a newer version has updated', () => {
  test.each(['main', 'worker'])('is left alone by %s, which says what it needs', async (program) => {
    const database = await makeDatabase('empty');
    await ask(database.url, `insert into migration (name, version) values ('900_later.sql', '9.1.0')`);
    const { status, stdout } = spawnSync(process.execPath, [join(HOUSE, `server/generated/${program}.mjs`)], {
      cwd: HOUSE,
      env: { ...process.env, DATABASE_URL: database.url, ZESTY_CROW_DATA: root, PORT: '0' },
      encoding: 'utf8',
      timeout: 30_000,
    });
    expect(status).toBeGreaterThan(0);
    expect(stdout).toContain('needs version 9.1.0 or later (update 900_later.sql)');
    await database.drop();
  });

  test('and an older one is left alone by a worker', async () => {
    const database = await makeDatabase('empty');
    await ask(database.url, `delete from migration where name like '011%'`);
    const { status, stdout } = spawnSync(process.execPath, [join(HOUSE, 'server/generated/worker.mjs')], {
      cwd: HOUSE,
      env: { ...process.env, DATABASE_URL: database.url },
      encoding: 'utf8',
      timeout: 30_000,
    });
    expect([status, stdout]).toEqual([
      3,
      expect.stringContaining('has not had the update 011_history_differences.sql'),
    ]);
    await database.drop();
  });
});

test('modules that somebody took away are missed at the start', () => {
  const house = mkdtempSync(join(tmpdir(), 'zesty-crow-modules-'));
  made.push(house);
  const put = (path: string, content: object) => {
    mkdirSync(join(house, path, '..'), { recursive: true });
    writeFileSync(join(house, path), JSON.stringify(content));
  };
  put('package.json', { workspaces: ['hive', 'shelf'], devDependencies: { smoker: '1' } });
  put('hive/package.json', { dependencies: { wax: '1' } });
  put('shelf/package.json', { dependencies: { wax: '2', '@hive/jar': '1' } });
  for (const name of ['smoker', 'wax', '@hive/jar']) put(`node_modules/${name}/package.json`, {});
  const missing = () =>
    spawnSync(
      process.execPath,
      [
        ...['--input-type=module', '-e'],
        `import { missingModules } from '${HOUSE}/scripts/steps.mjs'; console.log(missingModules('${house}').join())`,
      ],
      { encoding: 'utf8' },
    ).stdout.trim();
  expect(missing()).toBe('');
  rmSync(join(house, 'node_modules/@hive/jar'), { recursive: true });
  expect(existsSync(join(house, 'node_modules/wax'))).toBe(true);
  expect(missing()).toBe('@hive/jar');
});
