import { Hono } from 'hono';
import { READERS } from '@zesty-crow/core/formats';
import { INDEX_FORMAT } from '@zesty-crow/core/idindex';
import { ProblemError } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { idParam } from '../http/validate.ts';
import { receiveFile, type FileKind } from '../files/receive.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { enqueuePrepare } from './prepare-job.ts';
import { sumsOfFrame, takePrepared } from './prepared.ts';
import { findVersion } from './versions.ts';

/** Kinds of file that a version may be made of, by ending. */
const KINDS: ReadonlyMap<string, FileKind> = new Map([
  ...READERS.flatMap(({ endings, mediaType }) =>
    endings.map((ending): [string, FileKind] => [ending, { role: 'picture', mediaType }]),
  ),
  ['json', { role: 'sidecar', mediaType: 'application/json' }],
]);

/** Versions: receive files, read them. */
export function versionRoutes(services: Services): Hono {
  const { pool, queue } = services;
  const app = new Hono();

  app.put('/:id/files/:name', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    if (version.state !== 'receiving')
      throw new ProblemError(409, 'This version is complete.', 'Add the files as a new version.');
    const frame = c.req.query('frame');
    if (frame !== undefined && !/^\d{1,7}$/.test(frame))
      throw new ProblemError(400, 'The frame is not a number.', 'Frames are whole numbers from 0 on.');
    const owner = {
      shotId: version.shot_id,
      versionId: version.id,
      ...(frame === undefined ? {} : { frame: Number(frame) }),
    };
    return c.json(
      await receiveFile(c, services, owner, KINDS, {
        title: 'is not a file that can be used.',
        detail: `Drop pictures (${READERS.map((r) => `.${r.endings[0]!}`).join(', ')}) and their manifests (.json).`,
      }),
      201,
    );
  });

  // An empty answer: there is none yet. Whoever opens the frame makes it, and the next one finds it.
  app.get('/:id/index', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const layer = c.req.query('layer') ?? '';
    const frame = c.req.query('frame');
    const number = frame === undefined ? undefined : Number(frame);
    if (layer === '' || layer.length > 255 || layer.includes('\0') || !Number.isInteger(number ?? 0))
      throw new ProblemError(400, 'The request cannot be used.', 'Name a layer, and a frame by its number.');
    const found = await takePrepared(pool, {
      versionId: version.id,
      sums: await sumsOfFrame(pool, version.id, number),
      layer,
      what: 'index',
      format: INDEX_FORMAT,
    });
    if (found)
      return c.body(new Uint8Array(found), 200, {
        'content-type': 'application/octet-stream',
        'content-length': String(found.length),
        'cache-control': 'no-store',
      });
    if (version.state === 'ready') await enqueuePrepare(services, version, number);
    return c.body(null, 204);
  });

  app.delete('/:id', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const { rowCount } = await pool.query(`delete from version where id = $1 and state = 'receiving'`, [
      version.id,
    ]);
    if (!rowCount)
      throw new ProblemError(
        409,
        'This version is complete.',
        'Only a version whose files are still arriving can be discarded.',
      );
    await announce(pool, SHOT_CHANNEL, version.shot_id);
    return c.body(null, 204);
  });

  app.post('/:id/read', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const { rowCount } = await pool.query(
      `update version set state = 'reading' where id = $1 and state in ('receiving', 'failed')`,
      [version.id],
    );
    if (!rowCount) throw new ProblemError(409, 'This version was read already.', 'Nothing needs to be done.');
    await announce(pool, SHOT_CHANNEL, version.shot_id);
    const job = await queue.enqueue(pool, {
      kind: 'ingest',
      shotId: version.shot_id,
      versionId: version.id,
      input: {},
    });
    return c.json(job, 202);
  });

  return app;
}
