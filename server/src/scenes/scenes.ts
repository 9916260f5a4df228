import type { StoredScene } from '../contract.ts';
import { openScene, type SceneFile, type SceneOutline } from '@zesty-crow/core/scene';
import type { Pool } from '../database/pool.ts';
import { filesOf, readFileBytes } from '../files/store.ts';

export async function storedScene(pool: Pool, shotId: string): Promise<StoredScene | undefined> {
  const { rows } = await pool.query<{ outline: SceneOutline | null; problem: string | null }>(
    'select scene_outline as outline, scene_problem as problem from shot where id = $1 and deleted is null',
    [shotId],
  );
  if (!rows[0]) return undefined;
  const [scene] = await filesOf(pool, { shotId, role: 'scene' });
  const parts = await filesOf(pool, { shotId, role: 'scene-part' });
  return {
    files: (scene ? [scene, ...parts] : []).map(({ id, name, size, role }) => ({ id, name, size, role })),
    ...rows[0],
  };
}

/** Reads and opens a shot's scene with the files beside it; undefined if it has none. Throws SceneError. */
export async function openStoredScene(pool: Pool, shotId: string): Promise<SceneFile | undefined> {
  const [scene] = await filesOf(pool, { shotId, role: 'scene' });
  if (!scene) return undefined;
  const beside = new Map<string, Uint8Array>();
  for (const part of await filesOf(pool, { shotId, role: 'scene-part' }))
    if (!beside.has(part.name)) beside.set(part.name, await readFileBytes(pool, part));
  return openScene(await readFileBytes(pool, scene), beside);
}
