import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { ChangeList } from '@zesty-crow/core/changes';
import { picksOfWish, type Measured, type Plan } from '@zesty-crow/core/plan';
import { rosterOf } from '@zesty-crow/core/roster';
import { openScene, outlineOf } from '@zesty-crow/core/scene';
import { beeFlightPlan, honeyTablePlan } from '../../../demo/plans/plans.ts';
import { inTransaction } from '../database/pool.ts';
import { storeFile } from '../files/store.ts';
import { changeHistory, planHistory } from '../history/documents.ts';
import type { Services } from '../services.ts';
import { createShot } from '../shots/shots.ts';
import { kindOfFile } from '../versions/file-kinds.ts';
import { createVersion } from '../versions/versions.ts';
import { CLIENT_FRAMES, clientFiles } from '../../../demo/client-files.ts';
import { HOUSE } from '../place.ts';
import { demoChanges, flightChanges } from './changes.ts';

const FILES = new URL('demo/files/', HOUSE);
const FRAMES = 10;

/** A shot of the demo: the files of its first version. */
interface DemoFiles {
  name: string;
  pictures: { file: string; frame?: number }[];
}
/** One that was rendered here: its scene, its plan, and what each frame cost. */
interface DemoShot extends DemoFiles {
  scene: string;
  plan: Plan;
  costs: { file: string; frame: number }[];
  changes(): ChangeList;
}

const four = (n: number) => String(n).padStart(4, '0');
const SHOTS: DemoShot[] = [
  {
    name: 'Bee flight',
    scene: 'bee_flight.glb',
    plan: beeFlightPlan(FRAMES),
    pictures: Array.from({ length: FRAMES }, (_, i) => i + 1).flatMap((frame) => [
      { file: `bee_flight_v1.${four(frame)}.exr`, frame },
      { file: `bee_flight_v1_data.${four(frame)}.exr`, frame },
    ]),
    costs: Array.from({ length: FRAMES }, (_, i) => ({
      file: `bee_flight_v1_cost.${four(i + 1)}.json`,
      frame: i + 1,
    })),
    changes: flightChanges,
  },
  {
    name: 'Honey table',
    scene: 'honey_table.glb',
    plan: honeyTablePlan(),
    pictures: [
      { file: 'honey_table_v1.exr' },
      { file: 'honey_table_v1_ids.exr' },
      { file: 'honey_table_v1_data.exr' },
      { file: 'honey_table_v1_direct.exr' },
      { file: 'honey_table_v1_indirect.exr' },
      { file: 'honey_table_v1_lamps.exr' },
    ],
    costs: [{ file: 'honey_table_v1_cost.json', frame: 1 }],
    changes: demoChanges,
  },
];

/** What a client has sent, with the faults that such folders have. */
const CLIENT: DemoFiles = {
  name: 'Apiary, from the client',
  pictures: CLIENT_FRAMES.flatMap((frame) => clientFiles(frame).map((file) => ({ file, frame }))),
};

/** Puts the demo shots into a database that has never held a shot. */
export async function seedDemo(services: Services, say: (text: string) => void): Promise<void> {
  const { pool } = services;
  const { rowCount } = await pool.query(`select 1 from migration where name = 'demo'`);
  if (rowCount) return;
  say('Adding the demo shots');
  // Left by a start that was killed midway.
  await pool.query('delete from shot where arriving');
  const shots: string[] = [];
  shots.push(await seedFiles(services, CLIENT));
  for (const shot of SHOTS) shots.push(await seedShot(services, shot));
  // From here on they are seen, all of them or none.
  await inTransaction(pool, async (client) => {
    await client.query('update shot set arriving = false where id = any($1)', [shots]);
    await client.query(`insert into migration (name) values ('demo')`);
  });
}

/** Path of a file of the demo. */
function pathOf(name: string): string {
  const at = fileURLToPath(new URL(name, FILES));
  if (!existsSync(at)) throw new Error(`The demo's files are missing: ${at}`);
  return at;
}

/** Stores the pictures of a version, and has it read. */
async function storePictures(
  { pool, queue }: Services,
  shotId: string,
  versionId: string,
  pictures: DemoFiles['pictures'],
): Promise<void> {
  for (const { file, frame } of pictures)
    await storeFile(
      pool,
      {
        shotId,
        versionId,
        ...kindOfFile(file)!,
        name: file,
        ...(frame === undefined ? {} : { frame }),
      },
      createReadStream(pathOf(file)),
    );
  await queue.enqueue(pool, { kind: 'ingest', shotId, versionId, input: {} });
}

/** Puts a shot together that was rendered elsewhere, out of sight; returns its id. */
async function seedFiles(services: Services, { name, pictures }: DemoFiles): Promise<string> {
  const { pool } = services;
  const shotId = await createShot(pool, name);
  await pool.query('update shot set arriving = true where id = $1', [shotId]);
  const version = await createVersion(pool, shotId, 'import', 'reading');
  await storePictures(services, shotId, version.id, pictures);
  return shotId;
}

/** Puts one shot together, out of sight; returns its id. */
async function seedShot(services: Services, demo: DemoShot): Promise<string> {
  const { pool } = services;
  const shotId = await createShot(pool, demo.name);
  await pool.query('update shot set arriving = true where id = $1', [shotId]);
  await storeFile(
    pool,
    { shotId, role: 'scene', name: demo.scene, mediaType: 'model/gltf-binary' },
    createReadStream(pathOf(demo.scene)),
  );
  const outline = outlineOf(await openScene(readFileSync(pathOf(demo.scene))));
  const roster = rosterOf(outline, demo.plan);
  const wishes = demo.plan.wishes.map((w) => ({
    id: w.id,
    words: w.words,
    picks: picksOfWish(w, demo.plan, roster),
  }));
  const measured = demo.costs.map(({ file, frame }) => ({
    ...(JSON.parse(readFileSync(pathOf(file), 'utf8')) as Measured),
    frame,
  }));
  await pool.query('update shot set scene_outline = $2 where id = $1', [shotId, JSON.stringify(outline)]);
  const version = await createVersion(pool, shotId, 'render', 'reading');
  await pool.query('update version set plan = $2, request = $3, wishes = $4, measured = $5 where id = $1', [
    version.id,
    JSON.stringify(demo.plan),
    JSON.stringify({ what: 'all' }),
    JSON.stringify(wishes),
    JSON.stringify(measured),
  ]);
  await planHistory.save(pool, shotId, 0, 'Demo plan', demo.plan);
  await changeHistory.save(pool, shotId, 0, 'Demo changes', demo.changes());
  await storePictures(services, shotId, version.id, demo.pictures);
  return shotId;
}
