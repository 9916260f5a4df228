import { outlineOf } from '@zesty-crow/core/scene';
import { openStoredScene } from './scenes.ts';
import { Unusable } from '../versions/open-version.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { JobRunner } from '../queue/runner.ts';

/** Reads a new scene and notes what is in it. */
export const readScene: JobRunner = async (job, { pool, progress }) => {
  progress(0.1, 'Reading the scene');
  try {
    const file = await openStoredScene(pool, job.shot_id);
    if (!file) throw new Unusable('This shot has no scene.');
    const outline = outlineOf(file);
    await pool.query(
      'update shot set scene_outline = $2, scene_problem = null, edited = now() where id = $1',
      [job.shot_id, JSON.stringify(outline)],
    );
    return { message: `Read: ${outline.triangles.toLocaleString('en')} triangles` };
  } catch (error) {
    await pool.query('update shot set scene_outline = null, scene_problem = $2 where id = $1', [
      job.shot_id,
      (error as Error).message,
    ]);
    throw error;
  } finally {
    await announce(pool, SHOT_CHANNEL, job.shot_id);
  }
};
