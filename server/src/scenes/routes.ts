import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { Hono } from 'hono';
import { storeFile, TooLarge } from '../files/store.ts';
import { notFound, Problem } from '../http/problem.ts';
import type { Services } from '../http/services.ts';
import { idParam } from '../http/validate.ts';
import { enqueue } from '../jobs/queue.ts';
import { shotCard } from '../shots/shots.ts';
import { storedScene } from './scenes.ts';

/** Kinds of file that a scene may be made of, by ending. */
const KINDS: Record<string, { role: 'scene' | 'scene-part'; mediaType: string }> = {
  glb: { role: 'scene', mediaType: 'model/gltf-binary' },
  gltf: { role: 'scene', mediaType: 'model/gltf+json' },
  bin: { role: 'scene-part', mediaType: 'application/octet-stream' },
  png: { role: 'scene-part', mediaType: 'image/png' },
  jpg: { role: 'scene-part', mediaType: 'image/jpeg' },
  exr: { role: 'scene-part', mediaType: 'image/x-exr' },
  jpeg: { role: 'scene-part', mediaType: 'image/jpeg' },
};

/** The scene of a shot: put its files, read it, look at what is in it. */
export function sceneRoutes({ pool, boss, settings }: Services): Hono {
  const app = new Hono();
  app.get('/:id/scene', async (c) => {
    const scene = await storedScene(pool, idParam(c, 'shot'));
    if (!scene) throw notFound('shot');
    return c.json(scene);
  });
  app.put('/:id/scene/:name', async (c) => {
    const shotId = idParam(c, 'shot');
    if (!(await shotCard(pool, shotId))) throw notFound('shot');
    const name = c.req.param('name');
    const kind = KINDS[name.slice(name.lastIndexOf('.') + 1).toLowerCase()];
    if (!kind)
      throw new Problem(
        415,
        `${name} is not part of a scene.`,
        'A scene is one .glb, or a .gltf with its .bin, .png and .jpg files.',
      );
    const body = c.req.raw.body as ReadableStream | null;
    if (!body) throw new Problem(400, `${name} is empty.`, 'Choose the file again.');
    try {
      const file = await storeFile(
        pool,
        { shotId, name, ...kind },
        Readable.fromWeb(body),
        settings.uploadLimit,
      );
      return c.json(file, 201);
    } catch (error) {
      if (error instanceof TooLarge) throw new Problem(413, `${name} is too large.`, error.message);
      throw error;
    }
  });
  app.post('/:id/scene/read', async (c) => {
    const shotId = idParam(c, 'shot');
    const scene = await storedScene(pool, shotId);
    if (!scene) throw notFound('shot');
    if (scene.files.length === 0)
      throw new Problem(409, 'This shot has no scene.', 'Drop a .glb or .gltf file first.');
    return c.json(await enqueue(pool, boss, { kind: 'scene', shotId, input: {} }), 202);
  });
  return app;
}
