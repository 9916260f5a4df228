import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { parseChangeList } from '@zesty-crow/core/changes';
import { parsePlan, picksOfWish, type Measured } from '@zesty-crow/core/plan';
import { rosterOf } from '@zesty-crow/core/roster';
import { openScene, outlineOf } from '@zesty-crow/core/scene';
import { inTransaction } from '../database/pool.ts';
import { storeFile } from '../files/store.ts';
import { changeHistory, planHistory } from '../history/documents.ts';
import type { Services } from '../services.ts';
import { createShot } from '../shots/shots.ts';
import { kindOfFile } from '../versions/file-kinds.ts';
import { createVersion } from '../versions/versions.ts';
import { SHOTS_FILE, type RenderedShot, type ShotOfFolder } from './shots-file.ts';

/**
 * Puts the shots of a folder into a database that has never held a shot: the demo, unless the settings say otherwise.
 * Throws if a file of the folder is missing.
 */
export async function seedDemo(services: Services, say: (text: string) => void): Promise<void> {
  const { pool } = services;
  const { rowCount } = await pool.query(`select 1 from migration where name = 'demo'`);
  if (rowCount) return;
  say('Adding the demo shots');
  // Left by a start that was killed midway.
  await pool.query('delete from shot where arriving');
  const folder = services.settings.demoFolder;
  const shots: string[] = [];
  for (const shot of read<(RenderedShot | ShotOfFolder)[]>(folder, SHOTS_FILE))
    shots.push(
      await ('scene' in shot ? seedShot(services, folder, shot) : seedFiles(services, folder, shot)),
    );
  // From here on they are seen, all of them or none.
  await inTransaction(pool, async (client) => {
    await client.query('update shot set arriving = false where id = any($1)', [shots]);
    await client.query(`insert into migration (name) values ('demo')`);
  });
}

function bytesOf(folder: string, name: string): Buffer {
  try {
    return readFileSync(join(folder, name));
  } catch {
    throw new Error(`The demo's files are missing: ${join(folder, name)}`);
  }
}
const read = <T>(folder: string, name: string): T => JSON.parse(bytesOf(folder, name).toString()) as T;

/** Stores the pictures of a version, and has it read. */
async function storePictures(
  { pool, queue }: Services,
  folder: string,
  shotId: string,
  versionId: string,
  pictures: ShotOfFolder['files'],
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
      Readable.from([bytesOf(folder, file)]),
    );
  await queue.enqueue(pool, { kind: 'ingest', shotId, versionId, input: {} });
}

/** Puts a shot together that was rendered elsewhere, out of sight; returns its id. */
async function seedFiles(services: Services, folder: string, { name, files }: ShotOfFolder): Promise<string> {
  const { pool } = services;
  const shotId = await createShot(pool, name);
  await pool.query('update shot set arriving = true where id = $1', [shotId]);
  const version = await createVersion(pool, shotId, 'import', 'reading');
  await storePictures(services, folder, shotId, version.id, files);
  return shotId;
}

/** Puts one shot together, out of sight; returns its id. */
async function seedShot(services: Services, folder: string, shot: RenderedShot): Promise<string> {
  const { pool } = services;
  const plan = parsePlan(read(folder, shot.plan));
  const changes = parseChangeList(read(folder, shot.changes));
  const scene = bytesOf(folder, shot.scene);
  const shotId = await createShot(pool, shot.name);
  await pool.query('update shot set arriving = true where id = $1', [shotId]);
  await storeFile(
    pool,
    { shotId, role: 'scene', name: shot.scene, mediaType: 'model/gltf-binary' },
    Readable.from([scene]),
  );
  const outline = outlineOf(await openScene(scene));
  const roster = rosterOf(outline, plan);
  const wishes = plan.wishes.map((w) => ({
    id: w.id,
    words: w.words,
    picks: picksOfWish(w, plan, roster),
  }));
  const measured = shot.costs.map(({ file, frame }) => ({
    ...read<Measured>(folder, file),
    frame,
  }));
  await pool.query('update shot set scene_outline = $2 where id = $1', [shotId, JSON.stringify(outline)]);
  const version = await createVersion(pool, shotId, 'render', 'reading');
  await pool.query('update version set plan = $2, request = $3, wishes = $4, measured = $5 where id = $1', [
    version.id,
    JSON.stringify(plan),
    JSON.stringify({ what: 'all' }),
    JSON.stringify(wishes),
    JSON.stringify(measured),
  ]);
  await planHistory.save(pool, shotId, 0, 'Demo plan', plan);
  await changeHistory.save(pool, shotId, 0, 'Demo changes', changes);
  await storePictures(services, folder, shotId, version.id, shot.files);
  return shotId;
}
