import { createReadStream, existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { demoChanges } from './changes.ts';
import { saveChanges } from '../changes/history.ts';
import type { Services } from '../http/services.ts';
import { storeFile } from '../files/store.ts';
import { enqueue } from '../jobs/queue.ts';
import { createShot, createVersion } from '../shots/shots.ts';

const FILES = new URL('../../../demo/files/', import.meta.url);

/** Puts the demo shot into a database that has never held a shot. */
export async function seedDemo({ pool, boss }: Services, say: (text: string) => void): Promise<void> {
  const { rowCount } = await pool.query(`select 1 from migration where name = 'demo'`);
  if (rowCount) return;
  const scene = new URL('honey_table.glb', FILES);
  const picture = new URL('honey_table_v1.exr', FILES);
  if (!existsSync(fileURLToPath(picture)))
    throw new Error(`The demo's files are missing: ${fileURLToPath(picture)}`);
  say('Adding the demo shot');
  const shotId = await createShot(pool, 'Honey table');
  const file = (url: URL) => createReadStream(fileURLToPath(url));
  await storeFile(
    pool,
    { shotId, role: 'scene', name: 'honey_table.glb', mediaType: 'model/gltf-binary' },
    file(scene),
  );
  const version = await createVersion(pool, shotId, 'render', 'reading');
  await storeFile(
    pool,
    { shotId, versionId: version.id, role: 'picture', name: 'honey_table_v1.exr', mediaType: 'image/x-exr' },
    file(picture),
  );
  await saveChanges(pool, shotId, 0, 'Demo changes', demoChanges());
  await enqueue(pool, boss, { kind: 'ingest', shotId, versionId: version.id, input: {} });
  await pool.query(`insert into migration (name) values ('demo')`);
}
