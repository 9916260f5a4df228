import { announce, JOB_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';

export type JobKind = 'ingest' | 'render' | 'export' | 'scene';
export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export interface JobRow {
  id: string;
  kind: JobKind;
  shot_id: string;
  version_id: string | null;
  state: JobState;
  /** 0 to 1. */
  progress: number;
  message: string;
  input: Record<string, unknown>;
  result: Record<string, unknown> | null;
  /** Renders: the frame, how many looks at it there were, and whether it shall end with what there is. */
  frame: number | null;
  look: number;
  keep: boolean;
  created: string;
  started: string | null;
  ended: string | null;
}

/** What browsers are told of a job: not its input, which may hold a whole plan. */
const TOLD =
  'id, kind, shot_id, version_id, state, progress, message, result, frame, look, keep, created, started, ended';
const COLUMNS = `${TOLD}, input`;

/** A job as browsers are told of it. */
export type ToldJob = Omit<JobRow, 'input'>;

export async function jobById(pool: Pool, id: string): Promise<ToldJob | undefined> {
  return (await pool.query<ToldJob>(`select ${TOLD} from job where id = $1`, [id])).rows[0];
}

/** Jobs that are not over, and those that ended within the last minutes, newest first. */
export async function recentJobs(pool: Pool): Promise<ToldJob[]> {
  return (
    await pool.query<ToldJob>(
      `select ${TOLD} from job
       where state in ('waiting', 'running') or ended > now() - interval '30 minutes'
       order by created desc limit 100`,
    )
  ).rows;
}

export interface NewJob {
  kind: JobKind;
  shotId: string;
  versionId?: string;
  frame?: number;
  input: object;
}

export async function insertJob(pool: Pool, job: NewJob): Promise<JobRow> {
  const { rows } = await pool.query<JobRow>(
    `insert into job (kind, shot_id, version_id, frame, input) values ($1, $2, $3, $4, $5) returning ${COLUMNS}`,
    [job.kind, job.shotId, job.versionId ?? null, job.frame ?? null, JSON.stringify(job.input)],
  );
  return rows[0]!;
}

/** Takes a waiting job; undefined if it was cancelled or another worker has it. */
export async function claimJob(pool: Pool, id: string): Promise<JobRow | undefined> {
  return (
    await pool.query<JobRow>(
      `update job set state = 'running', started = now(), seen = now(), progress = 0
       where id = $1 and state = 'waiting' returning ${COLUMNS}`,
      [id],
    )
  ).rows[0];
}

/** Notes progress and that the worker lives; false if the job was cancelled meanwhile. */
export async function noteProgress(
  pool: Pool,
  id: string,
  progress: number,
  message: string,
): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set progress = $2, message = $3, seen = now() where id = $1 and state = 'running'`,
    [id, progress, message],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

export async function endJob(
  pool: Pool,
  id: string,
  end: { state: 'done' | 'failed'; message: string; result?: object },
): Promise<void> {
  await pool.query(
    `update job set state = $2, message = $3, result = $4, ended = now(),
       progress = case when $2 = 'done' then 1 else progress end
     where id = $1 and state = 'running'`,
    [id, end.state, end.message, end.result ? JSON.stringify(end.result) : null],
  );
  await announce(pool, JOB_CHANNEL, id);
}

/** Cancels a job that is not over; the worker that has it stops at its next step. */
export async function cancelJob(pool: Pool, id: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set state = 'cancelled', ended = now(), message = 'Cancelled'
     where id = $1 and state in ('waiting', 'running')`,
    [id],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

/**
 * Jobs that have to go into the queue again: those whose worker has not signed in for a while, and waiting ones that
 * were put back, or that wait although no worker does anything of their kind: the queue handed them to one that died
 * before it took them. Taking one twice does no harm.
 */
export async function reviveJobs(pool: Pool): Promise<Pick<JobRow, 'id' | 'kind'>[]> {
  return (
    await pool.query<Pick<JobRow, 'id' | 'kind'>>(
      `update job set state = 'waiting', queued = now(), progress = 0,
         message = case when state = 'running' then 'Taken up again' else message end
       where (state = 'running' and seen < now() - interval '20 seconds')
         or (state = 'waiting' and (queued is null or (queued < now() - interval '15 seconds'
           and not exists (select 1 from job r where r.kind = job.kind and r.state = 'running'))))
       returning id, kind`,
    )
  ).rows;
}
