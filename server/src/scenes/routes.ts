import { Hono } from 'hono';
import { receiveFile, type FileKind } from '../files/receive.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { idParam } from '../http/validate.ts';
import { shotCard } from '../shots/shots.ts';
import { storedScene } from './scenes.ts';

/** Kinds of file that a scene may be made of, by ending. */
const KINDS: ReadonlyMap<string, FileKind> = new Map(
  Object.entries<FileKind>({
    glb: { role: 'scene', mediaType: 'model/gltf-binary' },
    gltf: { role: 'scene', mediaType: 'model/gltf+json' },
    bin: { role: 'scene-part', mediaType: 'application/octet-stream' },
    png: { role: 'scene-part', mediaType: 'image/png' },
    jpg: { role: 'scene-part', mediaType: 'image/jpeg' },
    exr: { role: 'scene-part', mediaType: 'image/x-exr' },
    jpeg: { role: 'scene-part', mediaType: 'image/jpeg' },
  }),
);

/** The scene of a shot: put its files, read it, look at what is in it. */
export function sceneRoutes(services: Services): Hono {
  const { pool, queue } = services;
  const app = new Hono();
  app.get('/:id/scene', async (c) => {
    const scene = await storedScene(pool, idParam(c, 'shot'));
    if (!scene) throw notFound('shot');
    return c.json(scene);
  });
  app.put('/:id/scene/:name', async (c) => {
    const shotId = idParam(c, 'shot');
    if (!(await shotCard(pool, shotId))) throw notFound('shot');
    return c.json(
      await receiveFile(c, services, { shotId }, KINDS, {
        title: 'is not part of a scene.',
        detail: 'A scene is one .glb, or a .gltf with its .bin, .png and .jpg files; an .exr can light it.',
      }),
      201,
    );
  });
  app.post('/:id/scene/read', async (c) => {
    const shotId = idParam(c, 'shot');
    const scene = await storedScene(pool, shotId);
    if (!scene) throw notFound('shot');
    if (scene.files.length === 0)
      throw new ProblemError(409, 'This shot has no scene.', 'Drop a .glb or .gltf file first.');
    return c.json(await queue.enqueue(pool, { kind: 'scene', shotId, input: {} }), 202);
  });
  return app;
}
