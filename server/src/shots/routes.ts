import { Hono } from 'hono';
import { notFound } from '../http/problem.ts';
import { READERS } from '@zesty-crow/core/formats';
import { receiveFile, type FileKind } from '../files/receive.ts';
import type { Services } from '../services.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { createShot, listShots, renameShot, setDeleted, shotCard } from './shots.ts';
import { createVersion, versionsOf } from '../versions/versions.ts';

const shotName = bodyOf<{ name: string }>({
  type: 'object',
  additionalProperties: false,
  required: ['name'],
  properties: { name: { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S' } },
});

/** Kinds of picture that a correction can lay into the picture, by ending. */
const FILLS: ReadonlyMap<string, FileKind> = new Map(
  READERS.flatMap(({ endings, mediaType }) =>
    endings.map((ending): [string, FileKind] => [ending, { role: 'fill', mediaType }]),
  ),
);

/** Shots: list, make, rename, delete and restore, add versions. */
export function shotRoutes(services: Services): Hono {
  const { pool } = services;
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
  app.put('/:id/pictures/:name', async (c) => {
    const id = idParam(c, 'shot');
    if (!(await shotCard(pool, id))) throw notFound('shot');
    return c.json(
      await receiveFile(c, services, { shotId: id }, FILLS, {
        title: 'is no picture that can be laid into this one.',
        detail: 'Choose a PNG, JPEG, TIFF or OpenEXR file.',
      }),
      201,
    );
  });
  app.post('/:id/versions', async (c) => {
    const id = idParam(c, 'shot');
    if (!(await shotCard(pool, id))) throw notFound('shot');
    return c.json(await createVersion(pool, id, 'import', 'receiving'), 201);
  });
  return app;
}
