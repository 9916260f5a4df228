import { serveStatic } from '@hono/node-server/serve-static';
import { Hono } from 'hono';
import type { Logger } from 'pino';
import { machineFault } from './database/faults.ts';
import { eventRoutes } from './events/routes.ts';
import { exportRoutes } from './exports/routes.ts';
import { fileRoutes } from './files/routes.ts';
import { folderRoutes } from './folders/routes.ts';
import { historyRoutes } from './history/routes.ts';
import { jobRoutes } from './jobs/routes.ts';
import { parcelRoutes, runRoutes } from './parcels/routes.ts';
import { presetRoutes } from './presets/routes.ts';
import { renderRoutes } from './renders/routes.ts';
import { sceneRoutes } from './scenes/routes.ts';
import { shotRoutes } from './shots/routes.ts';
import { versionRoutes } from './versions/routes.ts';
import { refuseOtherSites, sendHeaders } from './http/headers.ts';
import { ProblemError, problemResponse } from './http/problem.ts';
import type { Services } from './services.ts';

/** Answers to what is not the request's fault. */
const MACHINE = {
  'disk full': new ProblemError(
    507,
    'The disk is full.',
    'Make room and try again. Nothing that was saved before is lost.',
  ),
  'database lost': new ProblemError(
    503,
    'The database does not answer.',
    'Nothing that was saved is lost. Try again in a moment, or start Zesty Crow again.',
  ),
  other: new ProblemError(
    500,
    'The server could not do that.',
    'Nothing that was saved is lost. Try again; the log says more.',
  ),
};

/** The whole web server: the interface's files and everything under /api. */
export function makeApp(services: Services, log: Logger, webFolder: string): Hono {
  const app = new Hono();

  app.use('*', sendHeaders, refuseOtherSites);

  app.route('/api/shots', shotRoutes(services));
  app.route('/api/shots', historyRoutes(services));
  app.route('/api/shots', sceneRoutes(services));
  app.route('/api/shots', renderRoutes(services));
  app.route('/api/versions', versionRoutes(services));
  app.route('/api/versions', exportRoutes(services));
  app.route('/api/versions', parcelRoutes(services));
  app.route('/api/runs', runRoutes(services));
  app.route('/api/files', fileRoutes(services));
  app.route('/api/presets', presetRoutes(services));
  app.route('/api/folders', folderRoutes(services));
  app.route('/api/jobs', jobRoutes(services));
  app.route('/api/events', eventRoutes(services));
  app.get('/api/health', async (c) => {
    await services.pool.query('select 1');
    return c.json({ ready: true, disk: services.events.disk() });
  });
  app.all('/api/*', () => {
    throw new ProblemError(
      404,
      'There is nothing at this address.',
      'The interface and the server may be of different versions: reload the page.',
    );
  });

  app.use(
    '*',
    serveStatic({
      root: webFolder,
      onFound: (path, c) => {
        if (path.includes('/assets/')) c.header('cache-control', 'public, max-age=31536000, immutable');
      },
    }),
  );
  // Addresses inside the interface are its own business.
  app.get('*', serveStatic({ root: webFolder, path: 'index.html' }));

  app.onError((error, c) => {
    if (error instanceof ProblemError) return problemResponse(c, error);
    log.error(error);
    return problemResponse(c, MACHINE[machineFault(error) ?? 'other']);
  });
  return app;
}
