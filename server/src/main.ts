import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { serve } from '@hono/node-server';
import { pino } from 'pino';
import { migrate } from './database/migrate.ts';
import { openPool } from './database/pool.ts';
import { seedDemo } from './demo/seed.ts';
import { EventHub } from './events/hub.ts';
import { makeApp } from './app.ts';
import { openQueue } from './queue/queue.ts';
import { readSettings } from './settings.ts';
import { purgeShots } from './shots/shots.ts';

const log = pino({ name: 'server', level: process.env['LOG_LEVEL'] ?? 'warn' });
const say = (text: string) => console.log(text);
const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));

/** Starts the worker process and keeps one running. */
function keepWorker(stopping: () => boolean): { current: ChildProcess | undefined } {
  const holder: { current: ChildProcess | undefined } = { current: undefined };
  const begin = () => {
    holder.current = fork(fileURLToPath(new URL('./worker.ts', import.meta.url)), {
      execArgv: process.execArgv,
    });
    holder.current.on('exit', (code) => {
      if (stopping()) return;
      log.warn(`The worker ended with code ${code}; starting another one.`);
      setTimeout(begin, 1000);
    });
  };
  begin();
  return holder;
}

async function main(): Promise<void> {
  const settings = readSettings();
  const noteError = (error: Error) => log.error(error);
  const pool = openPool(settings.database, noteError);
  await migrate(pool, say);
  const boss = await openQueue(settings.database, noteError);
  const events = new EventHub(pool, settings.database, noteError);
  await events.start();
  const services = { pool, boss, events, settings };
  if (process.env['SEED_DEMO'] !== '0') await seedDemo(services, say);
  await purgeShots(pool);

  let stopping = false;
  const worker = keepWorker(() => stopping);
  const server = serve(
    { fetch: makeApp(services, log, WEB).fetch, hostname: '127.0.0.1', port: settings.port },
    (at) => {
      say(`Zesty Crow is ready at http://127.0.0.1:${at.port}`);
      process.send?.({ ready: at.port });
    },
  );
  server.on('error', (error: NodeJS.ErrnoException) => {
    say(
      error.code === 'EADDRINUSE'
        ? `Port ${settings.port} is taken by another program. Choose another one: PORT=4700 npm start`
        : `The server cannot be reached: ${error.message}`,
    );
    stop(1);
  });
  const stop = (code: number) => {
    if (stopping) return;
    stopping = true;
    server.close();
    const over = () => process.exit(code);
    if (worker.current?.connected) {
      worker.current.once('exit', over);
      worker.current.kill('SIGTERM');
      setTimeout(over, 3000).unref();
    } else over();
  };
  process.on('SIGTERM', () => stop(0));
  process.on('SIGINT', () => stop(0));
  process.on('disconnect', () => stop(0));
}

main().catch((error: unknown) => {
  say(`Zesty Crow cannot start: ${(error as Error).message}`);
  process.exit(1);
});
