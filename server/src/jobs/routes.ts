import { Hono } from 'hono';
import { Problem } from '../http/problem.ts';
import type { Services } from '../http/services.ts';
import { idParam } from '../http/validate.ts';
import { cancelJob, recentJobs } from './jobs.ts';

/** Jobs: those under way and just ended, and cancelling. */
export function jobRoutes({ pool }: Services): Hono {
  const app = new Hono();
  app.get('/', async (c) => c.json(await recentJobs(pool)));
  app.post('/:id/cancel', async (c) => {
    if (!(await cancelJob(pool, idParam(c, 'job'))))
      throw new Problem(409, 'This job is over.', 'There is nothing left to cancel.');
    return c.body(null, 204);
  });
  return app;
}
