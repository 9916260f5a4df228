import { Hono } from 'hono';
import { Problem } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { idParam } from '../http/validate.ts';
import { settleVersion } from '../renders/settle.ts';
import { cancelJob, jobById, recentJobs } from '../queue/jobs.ts';
import { keepJob, lookOf } from '../renders/looks.ts';

/** Jobs: those under way and just ended, and cancelling. */
export function jobRoutes({ pool }: Services): Hono {
  const app = new Hono();
  app.get('/', async (c) => c.json(await recentJobs(pool)));
  app.post('/:id/cancel', async (c) => {
    const id = idParam(c, 'job');
    if (!(await cancelJob(pool, id)))
      throw new Problem(409, 'This job is over.', 'There is nothing left to cancel.');
    const job = await jobById(pool, id);
    if (job?.kind === 'render' && job.version_id) await settleVersion(pool, job.shot_id, job.version_id);
    return c.body(null, 204);
  });
  app.post('/:id/keep', async (c) => {
    if (!(await keepJob(pool, idParam(c, 'job'))))
      throw new Problem(
        409,
        'This render is not running.',
        'Only a render that is under way can be stopped and kept.',
      );
    return c.body(null, 204);
  });
  app.get('/:id/look', async (c) => {
    const png = await lookOf(pool, idParam(c, 'job'));
    if (!png)
      throw new Problem(404, 'There is nothing to look at yet.', 'Wait until the first samples are there.');
    return c.body(new Uint8Array(png), 200, { 'content-type': 'image/png', 'cache-control': 'no-store' });
  });
  return app;
}
