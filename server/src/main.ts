import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { serve } from '@hono/node-server';
import { pino } from 'pino';
import { machineFault } from './database/faults.ts';
import { migrate } from './database/migrate.ts';
import { openPool } from './database/pool.ts';
import { seedDemo } from './demo/seed.ts';
import { EventHub } from './events/hub.ts';
import { makeApp } from './app.ts';
import { watchDisk } from './files/disk.ts';
import { laneOf } from './job-kinds.ts';
import { HOUSE, programPath } from './place.ts';
import { Queue } from './queue/queue.ts';
import { readSettings } from './settings.ts';
import { purgeShots, purgeUploads } from './shots/shots.ts';

const log = pino({ name: 'server', level: process.env['LOG_LEVEL'] ?? 'warn' });
const say = (text: string) => console.log(text);
const WEB = fileURLToPath(new URL('web/dist', HOUSE));

const FIRST_WAIT = 500;
const LONGEST_WAIT = 30_000;
/** A worker that ran so long was sound: the next pause is short again. */
const SOUND_AFTER = 60_000;

/** Starts the worker process and keeps one running, with growing pauses. */
function keepWorker(stopping: () => boolean): { current: ChildProcess | undefined } {
  const holder: { current: ChildProcess | undefined } = { current: undefined };
  const begin = (wait: number) => {
    const since = Date.now();
    holder.current = fork(programPath('worker'), {
      execArgv: process.execArgv,
    });
    holder.current.on('exit', (code, signal) => {
      if (stopping()) return;
      const pause = Date.now() - since > SOUND_AFTER ? FIRST_WAIT : wait;
      say(
        `The worker ended (${signal ?? `code ${code}`}). It is started again in ${pause / 1000} s; its jobs are taken up again.`,
      );
      setTimeout(() => !stopping() && begin(Math.min(LONGEST_WAIT, pause * 2)), pause);
    });
  };
  begin(FIRST_WAIT);
  return holder;
}

async function main(): Promise<void> {
  const settings = readSettings();
  const noteError = (error: Error) => log.error(error);
  const pool = openPool(settings.database, noteError);
  await migrate(pool, say);
  const queue = await Queue.open(settings.database, laneOf, noteError);
  const transfers = openPool(settings.database, noteError, 8);
  const events = new EventHub(pool, settings.database, noteError);
  await events.start();
  const services = { pool, transfers, queue, events, settings };
  if (process.env['SEED_DEMO'] !== '0') await seedDemo(services, say);
  const purge = async () => {
    await purgeShots(pool);
    await purgeUploads(pool);
  };
  await purge();
  setInterval(() => void purge().catch(noteError), 3_600_000).unref();
  watchDisk(settings.dataFolder, settings.diskLow, (state) => events.noteDisk(state));

  let stopping = false;
  const worker = keepWorker(() => stopping);
  const server = serve(
    { fetch: makeApp(services, log, WEB).fetch, hostname: '127.0.0.1', port: settings.port },
    (at) => {
      say(`Zesty Crow is ready at http://127.0.0.1:${at.port}`);
      process.send?.({ ready: at.port });
    },
  );
  // Node closes a resting connection after five seconds, just when a slow client may be using it again.
  if ('keepAliveTimeout' in server) server.keepAliveTimeout = 65_000;
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
  say(
    machineFault(error) === 'database lost'
      ? 'Zesty Crow cannot start: the database does not answer. Start it, or start with npm start, which has its own.'
      : `Zesty Crow cannot start: ${(error as Error).message}`,
  );
  process.exit(1);
});
