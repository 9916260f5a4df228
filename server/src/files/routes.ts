import { Readable } from 'node:stream';
import { Hono } from 'hono';
import { notFound } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { idParam } from '../http/validate.ts';
import { fileById, streamFile } from './store.ts';

/** Files as they are stored. They never change, so browsers may keep them. */
export function fileRoutes({ pool }: Services): Hono {
  const app = new Hono();
  app.get('/:id', async (c) => {
    const file = await fileById(pool, idParam(c, 'file'));
    if (!file) throw notFound('file');
    const etag = `"${file.sha256}"`;
    if (c.req.header('if-none-match') === etag) return c.body(null, 304, { etag });
    const name = encodeURIComponent(file.name);
    const stream = Readable.toWeb(await streamFile(pool, file.id)) as unknown as ReadableStream;
    return c.body(stream, 200, {
      'content-type': file.media_type,
      'content-length': String(file.size),
      'content-disposition': `${c.req.query('download') === undefined ? 'inline' : 'attachment'}; filename*=UTF-8''${name}`,
      'cache-control': 'private, max-age=31536000, immutable',
      etag,
    });
  });
  return app;
}
