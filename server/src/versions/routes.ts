import { Hono } from 'hono';
import { CHANGE_LIST_SCHEMA, parseChangeList } from '@zesty-crow/core/changes';
import { notFound, Problem } from '../http/problem.ts';
import type { Services } from '../http/services.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { receiveFile, type FileKind } from '../files/receive.ts';
import { announce, SHOT_CHANNEL } from '../jobs/jobs.ts';
import { enqueue } from '../jobs/queue.ts';
import type { ExportInput } from '../jobs/export.ts';
import { versionById } from '../shots/shots.ts';

/** Kinds of file that a version may be made of, by ending. */
const KINDS: Record<string, FileKind> = {
  exr: { role: 'picture', mediaType: 'image/x-exr' },
  json: { role: 'sidecar', mediaType: 'application/json' },
};

const exportInput = bodyOf<ExportInput>({
  type: 'object',
  additionalProperties: false,
  required: ['what', 'format', 'depth', 'name', 'list'],
  properties: {
    what: { enum: ['picture', 'mask'] },
    format: { enum: ['exr', 'png'] },
    depth: { enum: [8, 16] },
    changeId: { type: 'string', maxLength: 64 },
    frame: { type: 'integer', minimum: 0, maximum: 1e6 },
    name: { type: 'string', minLength: 1, maxLength: 120, pattern: '^[^/\\\\:\\u0000-\\u001f]+$' },
    list: CHANGE_LIST_SCHEMA,
  },
});

/** Versions: receive files, read them, export from them. */
export function versionRoutes(services: Services): Hono {
  const { pool, boss } = services;
  const app = new Hono();
  const find = async (id: string) => {
    const version = await versionById(pool, id);
    if (!version) throw notFound('version');
    return version;
  };

  app.put('/:id/files/:name', async (c) => {
    const version = await find(idParam(c, 'version'));
    if (version.state !== 'receiving')
      throw new Problem(409, 'This version is complete.', 'Add the files as a new version.');
    const owner = { shotId: version.shot_id, versionId: version.id };
    return c.json(
      await receiveFile(c, services, owner, KINDS, {
        title: 'is not a file that can be used.',
        detail: 'Drop OpenEXR files (.exr) and their manifests (.json).',
      }),
      201,
    );
  });

  app.delete('/:id', async (c) => {
    const version = await find(idParam(c, 'version'));
    const { rowCount } = await pool.query(`delete from version where id = $1 and state = 'receiving'`, [
      version.id,
    ]);
    if (!rowCount)
      throw new Problem(
        409,
        'This version is complete.',
        'Only a version whose files are still arriving can be discarded.',
      );
    await announce(pool, SHOT_CHANNEL, version.shot_id);
    return c.body(null, 204);
  });

  app.post('/:id/read', async (c) => {
    const version = await find(idParam(c, 'version'));
    const { rowCount } = await pool.query(
      `update version set state = 'reading' where id = $1 and state in ('receiving', 'failed')`,
      [version.id],
    );
    if (!rowCount) throw new Problem(409, 'This version was read already.', 'Nothing needs to be done.');
    await announce(pool, SHOT_CHANNEL, version.shot_id);
    const job = await enqueue(pool, boss, {
      kind: 'ingest',
      shotId: version.shot_id,
      versionId: version.id,
      input: {},
    });
    return c.json(job, 202);
  });

  app.post('/:id/export', async (c) => {
    const version = await find(idParam(c, 'version'));
    const input = await readBody(c, exportInput);
    if (version.state !== 'ready')
      throw new Problem(409, 'This version is not ready.', 'Wait until it has been read.');
    try {
      parseChangeList(input.list);
    } catch (error) {
      throw new Problem(400, 'The change list cannot be used.', `${(error as Error).message}.`);
    }
    if (input.what === 'mask' && !input.list.changes.some((x) => x.id === input.changeId))
      throw new Problem(400, 'It is not said whose mask is meant.', 'Choose a change.');
    return c.json(
      await enqueue(pool, boss, { kind: 'export', shotId: version.shot_id, versionId: version.id, input }),
      202,
    );
  });
  return app;
}
