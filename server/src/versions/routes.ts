import { Hono, type Context } from 'hono';
import { READERS } from '@zesty-crow/core/formats';
import type { Mending } from '@zesty-crow/core/findings';
import { INDEX_FORMAT } from '@zesty-crow/core/idindex';
import { INTERPRETATION_SCHEMA, type Interpretation } from '@zesty-crow/core/version';
import { inTransaction } from '../database/pool.ts';
import { retireFile } from '../files/store.ts';
import { waits } from '../queue/jobs.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { bodyOf, ID_PATTERN, idParam, readBody, wholeQuery } from '../http/validate.ts';
import { receiveFile } from '../files/receive.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { enqueuePrepare } from './prepare-job.ts';
import { sumsOfFrame, takePrepared } from './prepared.ts';
import { listFolder } from '../folders/folders.ts';
import { appearancesOf } from './appearances.ts';
import { VERSION_FILES } from './file-kinds.ts';
import { TAKING_SCHEMA, type Taking } from './take-files.ts';
import { findVersion, knownRoles } from './versions.ts';
import { MENDING_SCHEMA } from './mend-job.ts';

const taking = bodyOf<Taking>(TAKING_SCHEMA);
const interpretation = bodyOf<Interpretation>(INTERPRETATION_SCHEMA);

const mending = bodyOf<Mending>(MENDING_SCHEMA);
const ids = { type: 'array', maxItems: 20_000, items: { type: 'string', pattern: ID_PATTERN } };
const swapping = bodyOf<{ retire: string[]; restore: string[] }>({
  type: 'object',
  additionalProperties: false,
  required: ['retire', 'restore'],
  properties: { retire: ids, restore: ids },
});

const unusable = () =>
  new ProblemError(400, 'The request cannot be used.', 'Name a layer, and a frame by its number.');

/** The name of an ID layer that is asked for. */
function layerParam(c: Context): string {
  const layer = c.req.query('layer') ?? '';
  if (layer === '' || layer.length > 255 || layer.includes('\0')) throw unusable();
  return layer;
}

type FoundVersion = Awaited<ReturnType<typeof findVersion>>;

/** Has a version read once more whose files or meaning have changed; nothing where it is not read yet. */
async function readAgain({ pool, queue }: Services, version: FoundVersion) {
  if (version.state === 'failed')
    await pool.query(`update version set state = 'reading' where id = $1 and state = 'failed'`, [version.id]);
  await announce(pool, SHOT_CHANNEL, version.shot_id);
  const readable = version.state === 'failed' || version.state === 'ready';
  if (!readable || (await waits(pool, version.id, 'ingest', null))) return null;
  return queue.enqueue(pool, { kind: 'ingest', shotId: version.shot_id, versionId: version.id, input: {} });
}

/** Versions: receive files, read them, understand them as the artist says. */
export function versionRoutes(services: Services): Hono {
  const { pool, queue, settings } = services;
  const app = new Hono();

  app.put('/:id/files/:name', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    if (version.state === 'rendering' || version.state === 'reading' || version.unfinished === 'growing')
      throw new ProblemError(409, 'This version is busy.', 'Add the files when it is there.');
    const frame = c.req.query('frame');
    if (frame !== undefined && !/^\d{1,7}$/.test(frame))
      throw new ProblemError(400, 'The frame is not a number.', 'Frames are whole numbers from 0 on.');
    const owner = {
      shotId: version.shot_id,
      versionId: version.id,
      ...(frame === undefined ? {} : { frame: Number(frame) }),
      replaces: true,
    };
    return c.json(
      await receiveFile(c, services, owner, VERSION_FILES, {
        title: 'is not a file that can be used.',
        detail: `Drop pictures (${READERS.map((r) => `.${r.endings[0]!}`).join(', ')}) and their manifests (.json).`,
      }),
      201,
    );
  });

  // An empty answer: there is none yet. Whoever opens the frame makes it, and the next one finds it.
  app.get('/:id/index', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const layer = layerParam(c);
    const number = wholeQuery(c, 'frame');
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

  app.get('/:id/appearances', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    return c.json(await appearancesOf(pool, version.id, layerParam(c)));
  });

  app.patch('/:id/interpretation', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const body = await readBody(c, interpretation);
    await pool.query('update version set interpretation = $2 where id = $1', [
      version.id,
      JSON.stringify(body),
    ]);
    await readAgain(services, version);
    return c.body(null, 204);
  });

  // New files in which a fault is put right; the old ones are kept.
  app.post('/:id/mendings', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const input = await readBody(c, mending);
    if (version.state !== 'ready')
      throw new ProblemError(409, 'This version is busy.', 'Mend it when it has been read.');
    if (await waits(pool, version.id, 'mend', null))
      throw new ProblemError(409, 'Files of this version are being written.', 'Wait until they are there.');
    return c.json(
      await queue.enqueue(pool, { kind: 'mend', shotId: version.shot_id, versionId: version.id, input }),
      202,
    );
  });

  // Takes a mending back, or does it again: some files go, others come, all at once.
  app.post('/:id/swap', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const { retire, restore } = await readBody(c, swapping);
    await inTransaction(pool, async (client) => {
      for (const file of retire) await retireFile(client, version.id, file, true);
      for (const file of restore) await retireFile(client, version.id, file, false);
    });
    await readAgain(services, version);
    return c.body(null, 204);
  });

  // What was said of the passes of other shots, the latest first: the same renderer writes the same numbers.
  app.get('/:id/known-roles', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    return c.json(await knownRoles(pool, version.shot_id));
  });

  for (const [method, path, retired] of [
    ['DELETE', '/:id/files/:file', true],
    ['POST', '/:id/files/:file/restore', false],
  ] as const)
    app.on(method, path, async (c) => {
      const version = await findVersion(pool, idParam(c, 'version'));
      const file = idParam(c, 'file', 'file');
      if (!(await inTransaction(pool, (client) => retireFile(client, version.id, file, retired))))
        throw notFound('file');
      await readAgain(services, version);
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
    // One that can be worked on stays so while its files are read once more.
    if (version.state === 'ready') return c.json(await readAgain(services, version), 202);
    return c.json(await begin(version, {}), 202);
  });

  // The same of files that are on the server's machine: the job fetches them first.
  app.post('/:id/take', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const input = await readBody(c, taking);
    await listFolder(settings.folders, input.folder, false);
    return c.json(await begin(version, input), 202);
  });

  async function begin(version: FoundVersion, input: object) {
    const { rowCount } = await pool.query(
      `update version set state = 'reading' where id = $1 and state in ('receiving', 'failed')`,
      [version.id],
    );
    if (!rowCount) throw new ProblemError(409, 'This version was read already.', 'Nothing needs to be done.');
    await announce(pool, SHOT_CHANNEL, version.shot_id);
    return queue.enqueue(pool, {
      kind: 'ingest',
      shotId: version.shot_id,
      versionId: version.id,
      input,
    });
  }

  return app;
}
