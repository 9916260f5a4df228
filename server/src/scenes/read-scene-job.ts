import { outlineOf, type SceneOutline } from '@zesty-crow/core/scene';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { openStoredScene } from './scenes.ts';

/** Reads a new scene and notes what is in it. */
export const readSceneJob = defineJob<SceneOutline>({
  kind: 'scene',
  lane: 'short',
  minutes: 20,

  async run(job, { pool, progress }) {
    progress(0.1, 'Reading the scene');
    const file = await openStoredScene(pool, job.shot_id);
    if (!file) throw new JobError('This shot has no scene.');
    const outline = outlineOf(file);
    return { message: `Read: ${outline.triangles.toLocaleString('en')} triangles`, details: outline };
  },

  async finish(client, job, outline) {
    await client.query(
      'update shot set scene_outline = $2, scene_problem = null, edited = now() where id = $1',
      [job.shot_id, JSON.stringify(outline)],
    );
  },

  async failed(client, job, message) {
    await client.query('update shot set scene_outline = null, scene_problem = $2 where id = $1', [
      job.shot_id,
      message,
    ]);
  },

  after: async ({ pool }, job) => void (await announce(pool, SHOT_CHANNEL, job.shot_id)),
});
