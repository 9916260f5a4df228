import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { fileOf } from '../../../core/test/fixtures/frames.ts';
import { scaled } from '../../../core/test/runs.ts';
import { openFolder, startWhole, type Application } from '../../../e2e/harness/application.ts';
import { processesOf } from '../../../e2e/harness/processes.ts';
import { callsOf, until, type Json } from '../../test/calls.ts';
import type { ParcelRun } from '../contract.ts';

/**
 * A run is what it says, whoever is killed while it is made or put into its folder. Ten parcels of six frames; in a
 * campaign of CAMPAIGN=10 of sixty.
 */
const FRAMES = scaled(6);
const PARCELS = 10;
const data = openFolder('whole-runs');
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-whole-runs-'));
let application: Application;
const { call, ended } = callsOf(() => application);
beforeAll(async () => {
  application = await startWhole(data, { SEED_DEMO: '0', ZESTY_CROW_HAND_OVER: folder });
});
afterAll(async () => {
  await application?.stop();
  for (const own of [data, folder]) rmSync(own, { recursive: true, force: true });
});

const light = (n: number) => (p: number) => ((p + 7 * n) % 997) / 997;
const numbers = Array.from({ length: FRAMES }, (_, i) => i + 1);
const parcel = (id: string, into: string, more: object = {}) => ({
  ...{ id, kind: 'picture', title: id, frames: '', variants: [''], settings: { format: 'png16' } },
  ...{ name: '{shot}/{parcel}.{frame}', folder: into, ...more },
});

/** A shot whose version is ready, with parcels. */
async function shotOf(name: string, parcels: readonly object[], frames = numbers) {
  const shot = (await call('POST', '/shots', { name })).body['id'] as string;
  const version = (await call('POST', `/shots/${shot}/versions`)).body['id'] as string;
  for (const n of frames) {
    const bytes = fileOf({ R: light(n), G: light(n + 1), B: light(2 * n) }, { width: 96, height: 54 });
    await call('PUT', `/versions/${version}/files/f.${String(n).padStart(4, '0')}.exr?frame=${n}`, bytes);
  }
  await ended((await call('POST', `/versions/${version}/read`)).body['id']);
  const { revision } = (await call('GET', `/shots/${shot}/parcels`)).body;
  const body = { format: 'zesty-crow/parcels', version: 2, parcels };
  await call('PUT', `/shots/${shot}/parcels`, { revision, label: 'Test', body });
  return { shot, version };
}

const make = async (version: string) =>
  (await call('POST', `/versions/${version}/parcels`, {})).body as { run?: string } & Json;
/** A run as it stands; undefined while the server is away. */
async function runNow(version: string, run: string): Promise<ParcelRun | undefined> {
  const answer = await call('GET', `/versions/${version}/parcels/runs`).catch(() => undefined);
  if (answer?.status !== 200) return undefined;
  return (answer.body as unknown as ParcelRun[]).find((r) => r.id === run);
}
/** A run once it is over, its files in their folder. */
const over = (version: string, run: string, seconds = 200) =>
  until(async () => {
    const now = await runNow(version, run);
    return now?.ended && now.placed && !['waiting', 'running'].includes(now.placed.state) ? now : undefined;
  }, seconds);
const filesIn = (root: string) =>
  readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .map((f) => f.name)
    .sort();
const sound = (root: string) => execFileSync('sha256sum', ['--quiet', '-c', 'SHA256SUMS'], { cwd: root });

/** Whom a phase kills. */
const VICTIMS: Record<string, () => number | undefined> = {
  server: () => processesOf(data, 'server/generated/main.mjs')[0],
  worker: () => processesOf(data, 'server/generated/worker.mjs')[0],
  'lane of frames': () => laneOf('short'),
  'lane of folders': () => laneOf('folders'),
};
const laneOf = (name: string) =>
  processesOf(data, 'server/generated/lane.mjs').find((pid) =>
    readFileSync(`/proc/${pid}/environ`, 'utf8').includes(`LANE=${name}`),
  );
interface Phase {
  /** Frames of parcels that are made. */
  done: number;
  /** State of the job that puts files into the folder. */
  placing: string | null;
}
/** What a run is doing; asked of the database, which goes on while the server does not. */
async function phaseOf(client: pg.Client, run: string): Promise<Phase> {
  const { rows } = await client.query<Phase>(
    `select count(*) filter (where kind = 'parcel' and state = 'done')::int as done,
       max(state) filter (where kind = 'place') as placing from job where input->>'run' = $1`,
    [run],
  );
  return rows[0]!;
}

interface Done {
  id: string;
  ended: Date;
}
const doneJobs = async (client: pg.Client, run: string): Promise<Done[]> =>
  (
    await client.query<Done>(
      `select id, ended from job where kind = 'parcel' and state = 'done' and input->>'run' = $1 order by id`,
      [run],
    )
  ).rows;

/** Kills a process in a phase of a run; throws if that has gone by. @returns what was made before */
async function killIn(
  client: pg.Client,
  run: string,
  is: (phase: Phase) => boolean,
  victim: () => number | undefined,
): Promise<Done[]> {
  for (;;) {
    const phase = await phaseOf(client, run);
    const pid = is(phase) ? victim() : undefined;
    if (pid !== undefined) {
      const done = await doneJobs(client, run);
      process.kill(pid, 'SIGKILL');
      return done;
    }
    if (phase.placing === 'done') throw new Error('The run was over before anybody was killed.');
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
}

/** In which phases whom is killed; the last ones in a campaign only. */
const PHASES: [string, string, (phase: Phase) => boolean][] = [
  ['server', 'as soon as it was begun', () => true],
  ['lane of frames', 'with some frames made', ({ done }) => done > 4],
  ['lane of folders', 'while files are placed', ({ placing }) => placing === 'running'],
  ['worker', 'while files are placed', ({ placing }) => placing === 'running'],
  ['worker', 'with half of them made', ({ done }) => done > (FRAMES * PARCELS) / 2],
  ['server', 'with most of them made', ({ done }) => done > 0.8 * FRAMES * PARCELS],
];
test.each(PHASES.slice(0, process.env['CAMPAIGN'] === undefined ? 4 : undefined))(
  'the %s is killed %s: every file is there once, whole, and listed',
  async (victim, when, is) => {
    const root = join(folder, `${victim} ${when}`.replaceAll(' ', '_'));
    mkdirSync(root);
    const names = Array.from({ length: PARCELS }, (_, i) => `parcel_${i + 1}`);
    // Each is another file, so that all of them are made.
    const parcels = names.map((id, i) =>
      parcel(id, root, { settings: { format: 'png16', dither: i % 2 === 0 } }),
    );
    const { version } = await shotOf(`Killed ${victim} ${when}`, parcels);
    const client = new pg.Client({ connectionString: application.database });
    await client.connect();
    const { run } = await make(version);
    const before = await killIn(client, run!, is, VICTIMS[victim]!);
    const end = await over(version, run!);
    expect([end.files, end.failed, end.placed!.state]).toEqual([FRAMES * PARCELS, [], 'done']);
    expect(filesIn(root)).toEqual(
      [
        ...names.flatMap((p) => numbers.map((n) => `${p}.${String(n).padStart(4, '0')}.png`)),
        ...['SHA256SUMS', 'manifest.json'],
      ].sort(),
    );
    sound(root);
    const { files } = JSON.parse(readFileSync(join(root, 'manifest.json'), 'utf8')) as { files: Json[] };
    expect(files).toHaveLength(FRAMES * PARCELS);
    // What was made already was not made twice.
    expect(await doneJobs(client, run!)).toEqual(expect.arrayContaining(before));
    await client.end();
  },
);

test('two runs into one folder: the files of both are there, and the list tells of all', async () => {
  const root = join(folder, 'shared');
  const shots = await Promise.all(['Left', 'Right'].map((name) => shotOf(name, [parcel('look', root)])));
  const runs = await Promise.all(shots.map(({ version }) => make(version)));
  await Promise.all(shots.map(({ version }, i) => over(version, runs[i]!.run!)));
  sound(root);
  const { files } = JSON.parse(readFileSync(join(root, 'manifest.json'), 'utf8')) as {
    files: { name: string }[];
  };
  expect(files.map((f) => f.name).sort()).toEqual(
    ['left', 'right'].flatMap((s) => numbers.map((n) => `${s}/look.${String(n).padStart(4, '0')}.png`)),
  );
});

describe('a parcel of which nothing may be missing', () => {
  test('is not begun where a frame or a variant is missing', async () => {
    const asks = (more: object) => [parcel('look', '', { strict: true, ...more })];
    const { version } = await shotOf('Frames missing', asks({ frames: '99' }), [1]);
    const { detail, run } = await make(version);
    expect([run, detail]).toEqual([
      undefined,
      expect.stringMatching(/asks for frames 99, of which none is there/),
    ]);
    const other = await shotOf('Variant missing', asks({ variants: ['', 'gone'] }), [1]);
    expect((await make(other.version))['detail']).toMatch(/asks for a variant .*\(gone\)/);
  });

  test('puts nothing into its folder where a member is missing; others do, and say what is', async () => {
    const root = join(folder, 'strict');
    const change = {
      ...{ id: 'a', words: 'The wasp, darker', on: true, done: false },
      who: [{ mode: 'with', layer: 'CryptoObject', member: 'wasp' }],
      corrections: [{ id: 'b', kind: 'exposure', on: true, values: { stops: -1 } }],
    };
    const parcels = [parcel('strict', root, { strict: true }), parcel('loose', root)];
    const { shot, version } = await shotOf('Member missing', parcels, [1, 2]);
    const { revision } = (await call('GET', `/shots/${shot}/changes`)).body;
    const body = { format: 'zesty-crow/changes', version: 1, changes: [change] };
    expect((await call('PUT', `/shots/${shot}/changes`, { revision, label: 'Test', body })).status).toBe(200);
    const { run } = await make(version);
    const end = await over(version, run!);
    expect(end.failed.map((f) => [f.parcel, f.frame])).toEqual(
      expect.arrayContaining([1, 2].map((frame) => ['strict', frame])),
    );
    expect(end.failed[0]!.message).toMatch(/names "wasp" in CryptoObject/);
    expect([end.placed!.state, end.placed!.message]).toEqual([
      'failed',
      expect.stringMatching(/Nothing was written of “strict”/),
    ]);
    expect(filesIn(root)).toEqual(['SHA256SUMS', 'loose.0001.png', 'loose.0002.png', 'manifest.json']);
    const client = new pg.Client({ connectionString: application.database });
    await client.connect();
    const { rows } = await client.query<{ message: string }>(
      `select message from job where input->>'run' = $1 and input->>'parcel' = 'loose' and frame = 1`,
      [run],
    );
    await client.end();
    expect(rows[0]!.message).toMatch(/^loose: 1 file\. Frame 1: "The wasp, darker" names "wasp"/);
  });
});
