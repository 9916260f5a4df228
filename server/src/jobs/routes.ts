import { Hono } from 'hono';
import { notFound, ProblemError } from '../http/problem.ts';
import { idParam } from '../http/validate.ts';
import { jobKind } from '../job-kinds.ts';
import { cancelJob, jobById, keepJob, lookOf, recentJobs } from '../queue/jobs.ts';
import type { Services } from '../services.ts';

/** Jobs: those under way and just ended, cancelling, keeping, looking. */
export function jobRoutes({ pool, queue }: Services): Hono {
  const app = new Hono();
  const find = async (id: string) => {
    const job = await jobById(pool, id);
    if (!job) throw notFound('job');
    return job;
  };
  app.get('/', async (c) => c.json(await recentJobs(pool)));
  app.post('/:id/cancel', async (c) => {
    const job = await find(idParam(c, 'job'));
    if (!(await cancelJob(pool, job.id)))
      throw new ProblemError(409, 'This job is over.', 'There is nothing left to cancel.');
    await jobKind(job.kind)?.after?.({ pool, queue }, job);
    return c.body(null, 204);
  });
  app.post('/:id/keep', async (c) => {
    const job = await find(idParam(c, 'job'));
    if (job.kind !== 'render' || !(await keepJob(pool, job.id)))
      throw new ProblemError(
        409,
        'This render is not running.',
        'Only a render that is under way can be stopped and kept.',
      );
    return c.body(null, 204);
  });
  app.get('/:id/look', async (c) => {
    const png = await lookOf(pool, idParam(c, 'job'));
    if (!png)
      throw new ProblemError(
        404,
        'There is nothing to look at yet.',
        'Wait until the first samples are there.',
      );
    return c.body(new Uint8Array(png), 200, { 'content-type': 'image/png', 'cache-control': 'no-store' });
  });
  return app;
}
