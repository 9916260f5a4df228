/** The worker: takes jobs from the queue and has them done, one process a lane, until it is told to stop. */
import { pino } from 'pino';
import { JOB_CHANNEL } from './database/announce.ts';
import { Listener } from './database/listener.ts';
import { DatabaseVersionError, expectCurrent } from './database/migrate.ts';
import { openPool } from './database/pool.ts';
import { JOB_KINDS, laneOf } from './job-kinds.ts';
import { programPath } from './place.ts';
import { Foreman } from './queue/foreman.ts';
import { LANES } from './queue/lanes.ts';
import { Lane } from './queue/lane.ts';
import { Queue } from './queue/queue.ts';
import { settleLeftVersions } from './renders/settle.ts';
import { readSettings } from './settings.ts';
import { prepareOldVersions } from './versions/prepare-job.ts';

const log = pino({ name: 'worker', level: process.env['LOG_LEVEL'] ?? 'warn' });

async function main(): Promise<void> {
  const settings = readSettings();
  const noteError = (error: Error) => log.error(error);
  const pool = openPool(settings.database, noteError, 6);
  await expectCurrent(pool);
  const queue = await Queue.open(settings.database, laneOf, noteError);
  const program = programPath('lane');
  const foremen = LANES.map((lane) => {
    const process = new Lane({ program, lane, memory: settings.jobMemory, onError: noteError });
    return new Foreman(pool, queue, lane, process, JOB_KINDS, noteError, settings.jobPatience);
  });
  const all = (work: (foreman: Foreman) => Promise<void>) =>
    Promise.all(foremen.map((f) => work(f).catch(noteError)));

  // A cancelled job hears of it at once, not at its next progress note.
  const listener = new Listener(settings.database, 'zesty-crow-worker', [JOB_CHANNEL], {
    notification: (_channel, id) => void all((f) => f.heard(id)),
    again: () => void all((f) => f.missed()),
    error: noteError,
  });
  await listener.start();

  const revive = async () => {
    await all((f) => f.revive());
    await settleLeftVersions(pool, queue);
  };
  await revive();
  const reviving = setInterval(() => void revive().catch(noteError), 500 * settings.jobPatience);
  await all((f) => f.start());
  await prepareOldVersions(pool, queue).catch(noteError);

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    clearInterval(reviving);
    await all((f) => f.stop());
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());
  // Started by the server: when that ends, for whatever reason, so does its worker.
  process.on('disconnect', () => void stop());
  process.send?.('ready');
}

main().catch((error: unknown) => {
  // 3: the same would happen again, so that it is not started again.
  if (error instanceof DatabaseVersionError) {
    console.log(`The worker cannot start: ${error.message}`);
    process.exit(3);
  }
  log.fatal(error);
  process.exit(1);
});
