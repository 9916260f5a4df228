import { availableParallelism } from 'node:os';
import { Hono } from 'hono';
import type { RenderRequest } from '@zesty-crow/core/plan';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import type { Services } from '../services.ts';
import { findShot } from '../shots/shots.ts';
import { notFound } from '../http/problem.ts';
import { findVersion } from '../versions/versions.ts';
import { dropSums } from './sums.ts';
import { measuredOf, rendersOf } from './renders.ts';
import type { Figures } from '../contract.ts';
import { MOST_BANDS } from './bands.ts';
import { probeOf } from './probe-job.ts';
import { addSamples } from './add-samples.ts';
import { planToTry } from './sound-plan.ts';
import { cancelRender, keepRender, renderAnew, renderMissing, startRender } from './start.ts';

const picks = {
  type: 'array',
  maxItems: 5000,
  items: {
    type: 'object',
    additionalProperties: false,
    required: ['mode', 'layer', 'member'],
    properties: {
      mode: { enum: ['with', 'without', 'inside'] },
      layer: { enum: ['objects', 'materials', 'groups'] },
      member: { type: 'string', minLength: 1, maxLength: 1000 },
      rule: { type: 'boolean' },
    },
  },
} as const;
const share = { type: 'number', minimum: 0, maximum: 1 } as const;
const request = {
  type: 'object',
  additionalProperties: false,
  required: ['what'],
  properties: {
    what: { enum: ['all', 'ids', 'cut-out', 'patch'] },
    who: picks,
    keepCovered: { type: 'boolean' },
    catcher: picks,
    looks: {
      type: 'object',
      additionalProperties: {
        type: 'object',
        additionalProperties: false,
        properties: {
          colour: { type: 'array', minItems: 3, maxItems: 3, items: share },
          metalness: share,
          roughness: share,
          transmission: share,
        },
      },
    },
  },
} as const;
const anew = bodyOf<{ request?: RenderRequest }>({
  type: 'object',
  additionalProperties: false,
  properties: { request },
});
const trial = bodyOf<{ request: RenderRequest }>({
  type: 'object',
  additionalProperties: false,
  required: ['request'],
  properties: { request },
});
const start = bodyOf<{ request: RenderRequest; base?: string; parts?: number }>({
  type: 'object',
  additionalProperties: false,
  required: ['request'],
  properties: {
    /** The version to which IDs are added, or over which a patch is laid. */
    base: { type: 'string', maxLength: 36 },
    /** Into how many parts a still is cut, which several workers render. */
    parts: { type: 'integer', minimum: 1, maximum: MOST_BANDS },
    request,
  },
});

/** Renders of a shot: start one, list them with their jobs and costs. */
export function renderRoutes({ pool, queue, settings }: Services): Hono {
  const app = new Hono();
  const home = { pool, queue, memory: settings.jobMemory };
  app.get('/:id/renders', async (c) =>
    c.json(await rendersOf(pool, await findShot(pool, idParam(c, 'shot')))),
  );

  app.get('/:id/figures', async (c) =>
    c.json<Figures>({
      measured: await measuredOf(pool, await findShot(pool, idParam(c, 'shot'))),
      threads: settings.renderThreads || availableParallelism(),
      sumsLimit: settings.sumsLimit,
      memory: settings.jobMemory,
    }),
  );

  /** A trial of the plan as it is now; it is told when it is over, by an event of the shot. */
  app.post('/:id/probe', async (c) => {
    const shotId = await findShot(pool, idParam(c, 'shot'));
    const { request } = await readBody(c, trial);
    if (request.what !== 'all' && request.what !== 'ids') return c.json({ figures: null });
    const plan = await planToTry(home, shotId);
    return c.json({ figures: (plan && (await probeOf(home, shotId, plan, request))) ?? null });
  });

  app.post('/:id/renders', async (c) => {
    const shotId = idParam(c, 'shot');
    const { request, base, parts } = await readBody(c, start);
    return c.json(await startRender(home, shotId, request, base, parts), 202);
  });
  app.post('/:id/renders/:version/again', async (c) => {
    await renderMissing(home, idParam(c, 'shot'), idParam(c, 'version', 'version'));
    return c.body(null, 204);
  });
  app.post('/:id/renders/:version/more', async (c) => {
    await addSamples(home, idParam(c, 'shot'), idParam(c, 'version', 'version'));
    return c.body(null, 204);
  });
  app.delete('/:id/renders/:version/sums', async (c) => {
    const { id, shot_id } = await findVersion(pool, idParam(c, 'version', 'version'));
    if (shot_id !== idParam(c, 'shot')) throw notFound('version');
    await dropSums(pool, shot_id, id);
    return c.body(null, 204);
  });
  app.post('/:id/renders/:version/keep', async (c) => {
    await keepRender(home, idParam(c, 'shot'), idParam(c, 'version', 'version'));
    return c.body(null, 204);
  });
  app.post('/:id/renders/:version/anew', async (c) => {
    const { request } = await readBody(c, anew);
    await renderAnew(home, idParam(c, 'shot'), idParam(c, 'version', 'version'), request);
    return c.body(null, 204);
  });
  app.post('/:id/renders/:version/cancel', async (c) => {
    await cancelRender(home, idParam(c, 'shot'), idParam(c, 'version', 'version'));
    return c.body(null, 204);
  });
  return app;
}
