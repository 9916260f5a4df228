import { pino } from 'pino';
import pg from 'pg';
import { machineFault } from './database/faults.ts';
import { openPool, type Pool } from './database/pool.ts';
import { readSettings, type Settings } from './settings.ts';
import { exportFile } from './exports/export-job.ts';
import { ingest } from './versions/read-version-job.ts';
import { claimJob, endJob, jobById, noteProgress, reviveJobs, type JobKind } from './queue/jobs.ts';
import { JOB_CHANNEL } from './database/announce.ts';
import { JOB_KINDS, openQueue } from './queue/queue.ts';
import { render } from './renders/render-job.ts';
import { settleVersion, unsettledVersions } from './renders/settle.ts';
import { readScene } from './scenes/read-scene-job.ts';
import type { JobRunner } from './queue/runner.ts';

const RUNNERS: Record<JobKind, JobRunner> = { ingest, scene: readScene, render, export: exportFile };

/** What can be told to a job that is running. */
interface Running {
  abort: AbortController;
  keep: AbortController;
}
/** Least time between two progress notes of a job, in milliseconds. */
const NOTE_EVERY = 250;
const SIGN_IN_EVERY = 5000;
const log = pino({ name: 'worker', level: process.env['LOG_LEVEL'] ?? 'warn' });

/** Faults of the machine in words that say what to do; others say it themselves. */
const IN_WORDS = {
  'disk full': 'The disk is full. Make room and start it again; what was finished is kept.',
  'database lost': 'The database was lost while this was saved. Start it again; what was finished is kept.',
};
const inWords = (error: Error): string => {
  const fault = machineFault(error);
  return fault ? IN_WORDS[fault] : error.message;
};

async function runJob(
  pool: Pool,
  settings: Settings,
  running: Map<string, Running>,
  id: string,
): Promise<void> {
  const job = await claimJob(pool, id);
  if (!job) return;
  const abort = new AbortController();
  const keep = new AbortController();
  running.set(id, { abort, keep });
  let last = { done: 0, message: '' };
  let noted = 0;
  const note = async () => {
    noted = performance.now();
    if (!(await noteProgress(pool, id, last.done, last.message))) abort.abort(new Error('Cancelled'));
  };
  const signIn = setInterval(() => void note().catch((e: Error) => log.error(e)), SIGN_IN_EVERY);
  try {
    const { message, result } = await RUNNERS[job.kind](job, {
      pool,
      settings,
      signal: abort.signal,
      keep: keep.signal,
      progress(done, text) {
        last = { done, message: text };
        if (performance.now() - noted > NOTE_EVERY) void note().catch((e: Error) => log.error(e));
      },
    });
    await endJob(pool, id, { state: 'done', message, ...(result ? { result } : {}) });
  } catch (error) {
    if (abort.signal.aborted) return;
    log.error(error);
    await endJob(pool, id, { state: 'failed', message: inWords(error as Error) });
    if (job.kind === 'render' && job.version_id) await settleVersion(pool, job.shot_id, job.version_id);
  } finally {
    clearInterval(signIn);
    running.delete(id);
  }
}

/** Takes jobs from the queue until the process is told to stop. */
async function main(): Promise<void> {
  const settings = readSettings();
  const noteError = (error: Error) => log.error(error);
  const pool = openPool(settings.database, noteError);
  const boss = await openQueue(settings.database, noteError);
  const running = new Map<string, Running>();

  // A cancelled job hears of it at once, not at its next progress note.
  const listener = new pg.Client({
    connectionString: settings.database,
    application_name: 'zesty-crow-worker',
  });
  // Without it nothing is heard of any more; the process ends, and who started it begins another one. What was under
  // way is taken up again.
  listener.on('error', (error) => {
    noteError(error);
    process.exit(1);
  });
  listener.on('notification', ({ payload }) => {
    const told = payload === undefined ? undefined : running.get(payload);
    if (told)
      void jobById(pool, payload!).then((job) => {
        if (job?.keep) told.keep.abort();
        if (job?.state === 'cancelled') told.abort.abort(new Error('Cancelled'));
      }, noteError);
  });
  await listener.connect();
  await listener.query(`listen ${JOB_CHANNEL}`);

  for (const kind of JOB_KINDS)
    await boss.work<{ id: string }>(kind, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) => {
      if (job) await runJob(pool, settings, running, job.data.id);
    });
  const revive = async () => {
    for (const { id, kind } of await reviveJobs(pool)) await boss.send(kind, { id });
    for (const { id, shot_id } of await unsettledVersions(pool)) await settleVersion(pool, shot_id, id);
  };
  await revive();
  const reviving = setInterval(() => void revive().catch(noteError), 10_000);

  const stop = async () => {
    clearInterval(reviving);
    for (const { abort } of running.values()) abort.abort(new Error('The worker was stopped.'));
    // What was under way goes back into the queue for the next start.
    await pool
      .query(
        `update job set state = 'waiting', queued = null, message = 'Taken up again' where id = any($1) and state = 'running'`,
        [[...running.keys()]],
      )
      .catch(noteError);
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());
  // Started by the server: when that ends, for whatever reason, so does its worker.
  process.on('disconnect', () => void stop());
  process.send?.('ready');
}

main().catch((error: unknown) => {
  log.fatal(error);
  process.exit(1);
});
