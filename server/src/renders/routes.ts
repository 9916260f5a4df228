import { availableParallelism } from 'node:os';
import { Hono } from 'hono';
import { checkPlan, rosterOf, type Plan, type RenderRequest } from '@zesty-crow/core/plan';
import { planHistory } from '../history/documents.ts';
import { notFound, Problem } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { enqueue } from '../queue/queue.ts';
import { storedScene } from '../scenes/scenes.ts';
import { createVersion, versionById } from '../versions/versions.ts';
import { measuredOf, rendersOf } from './renders.ts';
import { settleVersion } from './settle.ts';

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
const start = bodyOf<{ request: RenderRequest; base?: string }>({
  type: 'object',
  additionalProperties: false,
  required: ['request'],
  properties: {
    /** The version to which IDs are added, or over which a patch is laid. */
    base: { type: 'string', maxLength: 36 },
    request: {
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
    },
  },
});

const MOST_FRAMES = 5000;

/** Renders of a shot: start one, list them with their jobs and costs. */
export function renderRoutes({ pool, boss, settings }: Services): Hono {
  const app = new Hono();
  app.get('/:id/renders', async (c) => c.json(await rendersOf(pool, idParam(c, 'shot'))));

  app.get('/:id/figures', async (c) =>
    c.json({
      measured: await measuredOf(pool, idParam(c, 'shot')),
      threads: settings.renderThreads || availableParallelism(),
    }),
  );

  app.post('/:id/renders', async (c) => {
    const shotId = idParam(c, 'shot');
    const { request, base } = await readBody(c, start);
    const scene = await storedScene(pool, shotId);
    const state = await planHistory.state(pool, shotId);
    if (!scene || !state) throw notFound('shot');
    if (!scene.outline)
      throw new Problem(
        409,
        scene.files.length ? 'The scene cannot be rendered.' : 'This shot has no scene.',
        scene.problem ?? 'Drop a .glb or .gltf file in Prepare.',
      );
    const plan: Plan = state.body;
    const faults = checkPlan(plan, rosterOf(scene.outline, plan)).filter((f) => f.severity === 'error');
    if (faults.length)
      throw new Problem(409, 'The plan cannot be rendered yet.', faults.map((f) => f.message).join(' '), {
        findings: faults,
      });
    const lit = plan.render.surroundings;
    if (lit && !scene.files.some((f) => f.name === lit))
      throw new Problem(
        409,
        'The surroundings are missing.',
        `The plan lights the scene by "${lit}". Add that picture in Render, or choose the scene's own sky.`,
      );
    if (plan.render.camera && !scene.outline.cameras.includes(plan.render.camera))
      throw new Problem(
        409,
        'The camera is not there.',
        `The scene has no camera "${plan.render.camera}". Choose another one in Render.`,
      );
    const frames = plan.render.last - plan.render.first + 1;
    if (frames > MOST_FRAMES)
      throw new Problem(
        409,
        `${frames} frames are too many for one render.`,
        `Render up to ${MOST_FRAMES} at once.`,
      );

    const over = base === undefined ? undefined : await versionById(pool, base);
    if (base !== undefined && (over?.shot_id !== shotId || over.state !== 'ready')) throw notFound('version');
    if ((request.what === 'ids' || request.what === 'patch') && over) await checkBase(base!, plan);
    if (request.what === 'patch' && !over)
      throw new Problem(400, 'A patch is laid over a version.', 'Choose the version.');

    // IDs join the version they belong to; everything else is a version of its own.
    const joins = request.what === 'ids' && over !== undefined;
    const version = joins ? over : await createVersion(pool, shotId, 'render', 'rendering');
    await pool.query(
      joins
        ? 'update version set plan = coalesce(plan, $2) where id = $1'
        : 'update version set plan = $2, request = $3 where id = $1',
      joins
        ? [version.id, JSON.stringify(plan)]
        : [version.id, JSON.stringify(plan), JSON.stringify(request)],
    );
    for (let frame = plan.render.first; frame <= plan.render.last; frame++)
      await enqueue(pool, boss, {
        kind: 'render',
        shotId,
        versionId: version.id,
        frame,
        input: { request, plan, ...(base ? { base } : {}) },
      });
    await announce(pool, SHOT_CHANNEL, shotId);
    return c.json({ versionId: version.id, number: version.number }, 202);
  });

  /** IDs and patches must have the size of what they are added to. */
  async function checkBase(versionId: string, plan: Plan): Promise<void> {
    const { rows } = await pool.query<{ width: number; height: number; number: number }>(
      'select width, height, number from version where id = $1',
      [versionId],
    );
    const v = rows[0]!;
    if (v.width !== plan.render.width || v.height !== plan.render.height)
      throw new Problem(
        409,
        'The sizes differ.',
        `v${v.number} is ${v.width} x ${v.height}, the plan says ${plan.render.width} x ${plan.render.height}. Set the plan to the size of v${v.number}.`,
      );
  }

  // Frames that failed or were cancelled, with the plan they were first asked for.
  app.post('/:id/renders/:version/again', async (c) => {
    const shotId = idParam(c, 'shot');
    const version = idParam(c, 'version', 'version');
    const { rows } = await pool.query<{ id: string }>(
      `update job set state = 'waiting', queued = now(), progress = 0, message = '', keep = false,
         started = null, ended = null
       where shot_id = $1 and version_id = $2 and kind = 'render' and state in ('failed', 'cancelled')
       returning id`,
      [shotId, version],
    );
    if (rows.length === 0)
      throw new Problem(409, 'No frame is missing.', 'Every frame of this version was rendered.');
    // What has some frames already stays in use.
    await pool.query(
      `update version set problem = null, state = case when state = 'failed' then 'rendering' else state end
       where id = $1`,
      [version],
    );
    for (const { id } of rows) {
      await boss.send('render', { id });
      await announce(pool, JOB_CHANNEL, id);
    }
    await announce(pool, SHOT_CHANNEL, shotId);
    return c.body(null, 204);
  });

  app.post('/:id/renders/:version/cancel', async (c) => {
    const shotId = idParam(c, 'shot');
    const version = c.req.param('version');
    const { rows } = await pool.query<{ id: string }>(
      `update job set state = 'cancelled', ended = now(), message = 'Cancelled'
       where shot_id = $1 and version_id::text = $2 and kind = 'render' and state in ('waiting', 'running')
       returning id`,
      [shotId, version],
    );
    if (rows.length) await settleVersion(pool, shotId, version);
    for (const { id } of rows) await announce(pool, JOB_CHANNEL, id);
    return c.body(null, 204);
  });
  return app;
}
