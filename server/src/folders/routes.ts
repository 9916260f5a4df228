import { Hono } from 'hono';
import type { Services } from '../services.ts';
import { listFolder } from './folders.ts';

/** Folders on the server's machine that were allowed; none by default. */
export function folderRoutes({ settings }: Services): Hono {
  const app = new Hono();
  app.get('/', async (c) =>
    c.json(await listFolder(settings.folders, c.req.query('path'), c.req.query('files') !== undefined)),
  );
  return app;
}
