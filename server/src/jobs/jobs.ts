import type { Pool } from '../database/pool.ts';

export type JobKind = 'ingest' | 'render' | 'export';
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
  created: string;
  started: string | null;
  ended: string | null;
}

const COLUMNS =
  'id, kind, shot_id, version_id, state, progress, message, input, result, created, started, ended';

/** Channel on which every change of a job is announced, with the job's id. */
export const JOB_CHANNEL = 'zesty_crow_job';
/** Channel on which a change of a shot is announced, with the shot's id. */
export const SHOT_CHANNEL = 'zesty_crow_shot';

export const announce = (pool: Pool, channel: string, id: string) =>
  pool.query('select pg_notify($1, $2)', [channel, id]);

export async function jobById(pool: Pool, id: string): Promise<JobRow | undefined> {
  return (await pool.query<JobRow>(`select ${COLUMNS} from job where id = $1`, [id])).rows[0];
}

/** Jobs that are not over, and those that ended within the last minutes, newest first. */
export async function recentJobs(pool: Pool): Promise<JobRow[]> {
  return (
    await pool.query<JobRow>(
      `select ${COLUMNS} from job
       where state in ('waiting', 'running') or ended > now() - interval '30 minutes'
       order by created desc limit 100`,
    )
  ).rows;
}

export async function insertJob(
  pool: Pool,
  job: { kind: JobKind; shotId: string; versionId?: string; input: object },
): Promise<JobRow> {
  const { rows } = await pool.query<JobRow>(
    `insert into job (kind, shot_id, version_id, input) values ($1, $2, $3, $4) returning ${COLUMNS}`,
    [job.kind, job.shotId, job.versionId ?? null, JSON.stringify(job.input)],
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

/** Puts jobs back whose worker has not signed in for a while, and returns them with those never taken. */
export async function reviveJobs(pool: Pool): Promise<Pick<JobRow, 'id' | 'kind'>[]> {
  return (
    await pool.query<Pick<JobRow, 'id' | 'kind'>>(
      `update job set state = 'waiting', progress = 0, message = 'Taken up again'
       where state = 'running' and seen < now() - interval '20 seconds' returning id, kind`,
    )
  ).rows;
}
