import { downloadZip } from 'client-zip';
import { listName, manifestOf, sumsText } from '@zesty-crow/core/parcels';
import { Hono } from 'hono';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { fileBytes } from '../files/store.ts';
import type { Services } from '../services.ts';
import { findVersion, frameFacts, refuseUnfinished } from '../versions/versions.ts';
import { checkParcels } from './check.ts';
import { cancelRun, deleteRun, filesOfRun, openJobs, runBody, runsOf } from './runs.ts';
import { parcelHome, startRun } from './start-run.ts';

const wanted = bodyOf<{ parcels?: string[] }>({
  type: 'object',
  additionalProperties: false,
  properties: { parcels: { type: 'array', maxItems: 100, items: { type: 'string', maxLength: 64 } } },
});

/** Parcels of a version: what they would be, and making them. */
export function parcelRoutes({ pool, queue, settings }: Services): Hono {
  const app = new Hono();
  app.get('/:id/parcels', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const home = await parcelHome(pool, version);
    const facts = await frameFacts(pool, version.id);
    return c.json({ checks: await checkParcels(pool, settings, home, facts), folders: settings.handOver });
  });
  // Apart: while frames are made nothing else becomes another.
  app.get('/:id/parcels/runs', async (c) => {
    const { shot_id } = await findVersion(pool, idParam(c, 'version'));
    return c.json(await runsOf(pool, shot_id));
  });
  app.post('/:id/parcels', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const { parcels } = await readBody(c, wanted);
    if (version.state !== 'ready')
      throw new ProblemError(409, 'This version is not ready.', 'Wait until it has been read.');
    refuseUnfinished(version);
    return c.json({ run: await startRun(pool, queue, await parcelHome(pool, version, parcels)) }, 202);
  });
  return app;
}

/** Runs of parcels: their files, one by one or as an archive. */
export function runRoutes({ pool, transfers }: Services): Hono {
  const app = new Hono();
  const bodyOfRun = async (id: string) => {
    const body = await runBody(pool, id);
    if (!body) throw notFound('run');
    return body;
  };
  app.get('/:id/files', async (c) => {
    const id = idParam(c, 'run');
    await bodyOfRun(id);
    return c.json(await filesOfRun(pool, id));
  });
  app.post('/:id/cancel', async (c) => {
    const ended = await cancelRun(pool, idParam(c, 'run'));
    if (!ended) throw notFound('run');
    for (const job of ended.jobs) await announce(pool, JOB_CHANNEL, job);
    await announce(pool, SHOT_CHANNEL, ended.shotId);
    return c.body(null, 204);
  });
  app.delete('/:id', async (c) => {
    const id = idParam(c, 'run');
    await bodyOfRun(id);
    if ((await openJobs(pool, id)).length)
      throw new ProblemError(409, 'This is still being made.', 'Cancel it first, or wait.');
    await deleteRun(pool, id);
    return c.body(null, 204);
  });
  app.get('/:id/archive', async (c) => {
    const id = idParam(c, 'run');
    const body = await bodyOfRun(id);
    const parcel = c.req.query('parcel');
    const files = (await filesOfRun(pool, id)).filter(
      (f) => f.fileId !== null && (!parcel || f.parcel === parcel),
    );
    const lastModified = new Date();
    // Each file is fetched when its turn comes, some chunks at a time.
    async function* entries() {
      yield { name: listName('manifest'), lastModified, input: manifestOf(body, lastModified, files) };
      yield { name: listName('sums'), lastModified, input: sumsText(files) };
      for (const { name, size, fileId } of files)
        yield { name, lastModified, size, input: fileBytes(transfers, { id: fileId!, size }) };
    }
    const name = `${body.shot} v${body.version}.zip`;
    return c.body(downloadZip(entries()).body!, 200, {
      'content-type': 'application/zip',
      // It is made while it is sent.
      'accept-ranges': 'none',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    });
  });
  return app;
}
