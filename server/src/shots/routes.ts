import { Hono } from 'hono';
import { notFound, Problem } from '../http/problem.ts';
import type { Services } from '../http/services.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { filesOf } from '../files/store.ts';
import { announce, SHOT_CHANNEL } from '../jobs/jobs.ts';
import { enqueue } from '../jobs/queue.ts';
import type { RenderInput } from '../jobs/render.ts';
import {
  createShot,
  createVersion,
  listShots,
  renameShot,
  setDeleted,
  shotCard,
  versionsOf,
} from './shots.ts';

const shotName = bodyOf<{ name: string }>({
  type: 'object',
  additionalProperties: false,
  required: ['name'],
  properties: { name: { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S' } },
});

const whole = (minimum: number, maximum: number) => ({ type: 'integer', minimum, maximum });
const renderInput = bodyOf<RenderInput>({
  type: 'object',
  additionalProperties: false,
  required: ['width', 'height', 'samples'],
  properties: { width: whole(16, 8192), height: whole(16, 8192), samples: whole(1, 65536) },
});

/** Shots: list, make, rename, delete and restore, add versions, render. */
export function shotRoutes({ pool, boss }: Services): Hono {
  const app = new Hono();
  const tell = (id: string) => announce(pool, SHOT_CHANNEL, id);

  app.get('/', async (c) => c.json(await listShots(pool)));
  app.post('/', async (c) => {
    const { name } = await readBody(c, shotName);
    const id = await createShot(pool, name.trim());
    await tell(id);
    return c.json(await shotCard(pool, id), 201);
  });
  app.get('/:id', async (c) => {
    const id = idParam(c, 'shot');
    const card = await shotCard(pool, id);
    if (!card) throw notFound('shot');
    return c.json({ ...card, versions: await versionsOf(pool, id) });
  });
  app.patch('/:id', async (c) => {
    const id = idParam(c, 'shot');
    const { name } = await readBody(c, shotName);
    if (!(await renameShot(pool, id, name.trim()))) throw notFound('shot');
    await tell(id);
    return c.json(await shotCard(pool, id));
  });
  app.delete('/:id', async (c) => {
    const id = idParam(c, 'shot');
    if (!(await setDeleted(pool, id, true))) throw notFound('shot');
    await tell(id);
    return c.body(null, 204);
  });
  app.post('/:id/restore', async (c) => {
    const id = idParam(c, 'shot');
    if (!(await setDeleted(pool, id, false))) throw notFound('shot');
    await tell(id);
    return c.json(await shotCard(pool, id));
  });
  app.post('/:id/versions', async (c) => {
    const id = idParam(c, 'shot');
    if (!(await shotCard(pool, id))) throw notFound('shot');
    return c.json(await createVersion(pool, id, 'import', 'receiving'), 201);
  });
  app.post('/:id/render', async (c) => {
    const id = idParam(c, 'shot');
    const input = await readBody(c, renderInput);
    if (!(await shotCard(pool, id))) throw notFound('shot');
    if ((await filesOf(pool, { shotId: id, role: 'scene' })).length === 0)
      throw new Problem(
        409,
        'This shot has no scene.',
        'It was made from finished files, so there is nothing to render.',
      );
    return c.json(await enqueue(pool, boss, { kind: 'render', shotId: id, input }), 202);
  });
  return app;
}
