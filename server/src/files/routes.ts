import { Hono } from 'hono';
import { notFound, ProblemError } from '../http/problem.ts';
import { rangeOf } from '../http/range.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import type { Services } from '../services.ts';
import { fileById, fileBytes, knownFiles } from './store.ts';

const known = bodyOf<{ files: { size: number; sha256?: string }[] }>({
  type: 'object',
  additionalProperties: false,
  required: ['files'],
  properties: {
    files: {
      type: 'array',
      maxItems: 20_000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['size'],
        properties: {
          size: { type: 'integer', minimum: 0, maximum: Number.MAX_SAFE_INTEGER },
          sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' },
        },
      },
    },
  },
});

/** Files as they are stored, whole or in parts. They never change, so browsers may keep them. */
export function fileRoutes({ pool, transfers, settings }: Services): Hono {
  const app = new Hono();
  app.post('/known', async (c) =>
    c.json({ known: await knownFiles(pool, (await readBody(c, known)).files) }),
  );
  app.get('/:id', async (c) => {
    const file = await fileById(pool, idParam(c, 'file'));
    if (!file) throw notFound('file');
    const etag = `"${file.sha256}"`;
    const headers = {
      'content-type': file.media_type,
      'content-disposition': `${c.req.query('download') === undefined ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      'cache-control': 'private, max-age=31536000, immutable',
      'accept-ranges': 'bytes',
      etag,
    };
    if (c.req.header('if-none-match') === etag) return c.body(null, 304, { etag });
    const asked = c.req.header('if-range') ?? etag;
    const range = rangeOf(asked === etag ? c.req.header('range') : undefined, file.size);
    if (range === 'outside') {
      c.header('content-range', `bytes */${file.size}`);
      throw new ProblemError(416, 'The file has no such part.', `It has ${file.size} bytes.`);
    }
    const { from, to } = range === 'whole' ? { from: 0, to: file.size } : range;
    const length = { 'content-length': String(to - from) };
    if (c.req.method === 'HEAD')
      return c.body(null, 200, { ...headers, 'content-length': String(file.size) });
    const body = untilIdle(fileBytes(transfers, file, from, to), settings.transferIdle);
    return range === 'whole'
      ? c.body(body, 200, { ...headers, ...length })
      : c.body(body, 206, {
          ...headers,
          ...length,
          'content-range': `bytes ${from}-${to - 1}/${file.size}`,
        });
  });
  return app;
}

/** A stream that fetches only what is taken from it, and ends if nothing is taken for `idle` milliseconds. */
function untilIdle(parts: AsyncGenerator<Buffer>, idle: number): ReadableStream<Uint8Array> {
  let timer: NodeJS.Timeout | undefined;
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        clearTimeout(timer);
        const next = await parts.next();
        if (next.done) return controller.close();
        controller.enqueue(new Uint8Array(next.value));
        timer = setTimeout(() => {
          void parts.return(undefined);
          controller.error(new Error('Nothing was taken for too long.'));
        }, idle);
      },
      async cancel() {
        clearTimeout(timer);
        await parts.return(undefined);
      },
    },
    { highWaterMark: 0 },
  );
}
