import { Hono } from 'hono';
import { notFound, ProblemError } from '../http/problem.ts';
import type { RenderAttention } from '../contract.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { jobKind } from '../job-kinds.ts';
import { cancelJob, jobById, keepJob, lookOf, noteAttention, recentJobs } from '../queue/jobs.ts';
import type { Services } from '../services.ts';

const place = { type: 'integer', minimum: 0, maximum: 16384 } as const;
const attention = bodyOf<RenderAttention>({
  type: 'object',
  additionalProperties: false,
  properties: {
    area: {
      type: 'object',
      additionalProperties: false,
      required: ['x0', 'y0', 'x1', 'y1'],
      properties: { x0: place, y0: place, x1: place, y1: place },
    },
    pass: { type: 'string', maxLength: 64 },
  },
});

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
  app.post('/:id/attention', async (c) => {
    const wanted = await readBody(c, attention);
    const job = await find(idParam(c, 'job'));
    // Of one that is over there is nothing more to come.
    if (job.kind === 'render') await noteAttention(pool, job.id, wanted);
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
