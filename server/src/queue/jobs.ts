import { announce, JOB_CHANNEL } from '../database/announce.ts';
import type { Job } from '../contract.ts';
import type { Client, Pool } from '../database/pool.ts';

/** Every statement about the job table stands in this file. */
export interface JobRow extends Omit<Job, 'kind' | 'result'> {
  /** The queue knows none of them. */
  kind: string;
  result: Record<string, unknown> | null;
  input: Record<string, unknown>;
}

/** A job that this worker has taken: the claim proves it in every statement that writes about it. */
export type ClaimedJob = JobRow & { claim: string; tries: number };

/** How often a job is begun before it counts as one that cannot be done. */
export const MOST_TRIES = 3;

/** What browsers are told of a job: not its input, which may hold a whole plan. */
const TOLD =
  'id, kind, shot_id, version_id, state, progress, message, result, frame, look, keep, snapshot, attention, created, started, ended';
const COLUMNS = `${TOLD}, input`;

/** A job as browsers are told of it. */
export type ToldJob = Omit<JobRow, 'input'>;

export async function jobById(pool: Pool, id: string): Promise<ToldJob | undefined> {
  return (await pool.query<ToldJob>(`select ${TOLD} from job where id = $1`, [id])).rows[0];
}

/** All jobs that are not over, and those that ended within the last minutes, newest first. */
export async function recentJobs(pool: Pool): Promise<ToldJob[]> {
  return (
    await pool.query<ToldJob>(
      `select ${TOLD} from job where state in ('waiting', 'running')
       union all
       (select ${TOLD} from job where ended > now() - interval '30 minutes'
          and state not in ('waiting', 'running') order by created desc limit 100)
       order by created desc`,
    )
  ).rows;
}

export interface NewJob {
  kind: string;
  shotId: string;
  versionId?: string;
  frame?: number;
  input: object;
}

/** Records a job. What it was asked for is not told again. */
export async function insertJob(db: Pool | Client, job: NewJob): Promise<ToldJob> {
  const { rows } = await db.query<ToldJob>(
    `insert into job (kind, shot_id, version_id, frame, input) values ($1, $2, $3, $4, $5) returning ${TOLD}`,
    [job.kind, job.shotId, job.versionId ?? null, job.frame ?? null, JSON.stringify(job.input)],
  );
  return rows[0]!;
}

/** Takes a waiting job and counts the try; undefined if it was cancelled or another worker has it. */
export async function claimJob(pool: Pool, id: string): Promise<ClaimedJob | undefined> {
  return (
    await pool.query<ClaimedJob>(
      `update job set state = 'running', started = now(), seen = now(), progress = 0, tries = tries + 1,
         claim = gen_random_uuid()
       where id = $1 and state = 'waiting' returning ${COLUMNS}, claim, tries`,
      [id],
    )
  ).rows[0];
}

type Claimed = Pick<ClaimedJob, 'id' | 'claim'>;

/** Notes progress and that the worker lives; false if the job was cancelled or taken by another one meanwhile. */
export async function noteProgress(
  pool: Pool,
  { id, claim }: Claimed,
  progress: number,
  message: string,
): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set progress = $3, message = $4, seen = now() where id = $1 and claim = $2 and state = 'running'`,
    [id, claim, progress, message],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

export interface JobEnd {
  state: 'done' | 'failed';
  message: string;
  result?: object | undefined;
}

/** Ends a job inside a transaction of the caller's; false if it is not this worker's any more. */
export async function endJob(client: Client, { id, claim }: Claimed, end: JobEnd): Promise<boolean> {
  const { rowCount } = await client.query(
    `update job set state = $3, message = $4, result = $5, ended = now(), claim = null,
       progress = case when $3 = 'done' then 1 else progress end
     where id = $1 and claim = $2 and state = 'running'`,
    [id, claim, end.state, end.message, end.result ? JSON.stringify(end.result) : null],
  );
  return rowCount === 1;
}

/** Puts a job back that was begun but not ended. An orderly stop takes the try back, too. */
export async function putBack(pool: Pool, { id, claim }: Claimed, orderly: boolean): Promise<void> {
  await pool.query(
    `update job set state = 'waiting', queued = null, claim = null, message = 'Taken up again',
       tries = tries - case when $3 then 1 else 0 end
     where id = $1 and claim = $2 and state = 'running'`,
    [id, claim, orderly],
  );
  await announce(pool, JOB_CHANNEL, id);
}

/** Cancels a job that is not over; the worker that has it is told by the announcement. */
export async function cancelJob(pool: Pool, id: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set state = 'cancelled', ended = now(), claim = null, message = 'Cancelled'
     where id = $1 and state in ('waiting', 'running')`,
    [id],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

/** Ids of all jobs of a version, however they ended. */
export async function jobIdsOf(pool: Pool, versionId: string): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>('select id from job where version_id = $1', [versionId]);
  return rows.map((r) => r.id);
}

/** How the jobs of a kind stand that a version has, and why the last one failed. */
export interface JobCounts {
  waiting: number;
  /** Those that wait included. */
  under_way: number;
  done: number;
  failed: number;
  cancelled: number;
  message: string | null;
}

export async function countJobs(db: Pool | Client, versionId: string, kind: string): Promise<JobCounts> {
  const { rows } = await db.query<JobCounts>(
    `select count(*) filter (where state = 'waiting')::int as waiting,
       count(*) filter (where state in ('waiting', 'running'))::int as under_way,
       count(*) filter (where state = 'done')::int as done,
       count(*) filter (where state = 'failed')::int as failed,
       count(*) filter (where state = 'cancelled')::int as cancelled,
       (array_agg(message order by ended desc) filter (where state = 'failed'))[1] as message
     from job where version_id = $1 and kind = $2`,
    [versionId, kind],
  );
  return rows[0]!;
}

/** Whether any job of a kind is being done, of whatever shot. */
export async function anyRunning(db: Pool | Client, kind: string): Promise<boolean> {
  const { rowCount } = await db.query(`select 1 from job where kind = $1 and state = 'running' limit 1`, [
    kind,
  ]);
  return rowCount === 1;
}

/** Whether a job of a kind waits or runs for a shot as a whole. */
export async function isAtWork(db: Pool | Client, shotId: string, kind: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from job where shot_id = $1 and version_id is null and kind = $2 and state in ('waiting', 'running') limit 1`,
    [shotId, kind],
  );
  return rowCount === 1;
}

/** Whether a job of a kind waits for a version, for this frame, or for none in particular. */
export async function waits(
  db: Pool | Client,
  versionId: string,
  kind: string,
  frame: number | null,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from job where version_id = $1 and kind = $2 and state = 'waiting' and frame is not distinct from $3 limit 1`,
    [versionId, kind, frame],
  );
  return rowCount === 1;
}

/** Whether a version has jobs of a kind that are not over. */
export async function anyActive(client: Client, versionId: string, kind: string): Promise<boolean> {
  const { under_way } = await countJobs(client, versionId, kind);
  return under_way > 0;
}

/** The version over which a version's frames were rendered, if there was one. */
export async function baseOf(pool: Pool, versionId: string): Promise<string | undefined> {
  const { rows } = await pool.query<{ base: string | null }>(
    `select input->>'base' as base from job where version_id = $1 and kind = 'render' order by created limit 1`,
    [versionId],
  );
  return rows[0]?.base ?? undefined;
}

/** Groups of bands that are all done and not joined yet, each with what one of its bands was asked for. */
export async function openBands(
  client: Client,
  versionId: string,
): Promise<{ group: string; frame: number | null; input: Record<string, unknown> }[]> {
  const { rows } = await client.query<{
    group: string;
    frame: number | null;
    input: Record<string, unknown>;
  }>(
    `select b.group, min(b.frame) as frame, (array_agg(b.input))[1] as input
     from (select input->'band'->>'group' as "group", frame, input, state from job
       where version_id = $1 and kind = 'render' and input ? 'band') b
     where not exists (select 1 from job where version_id = $1 and input->>'join' = b.group)
     group by b.group
     having count(*) = count(*) filter (where b.state = 'done')`,
    [versionId],
  );
  return rows;
}

/** Whether frames of a version are rendered in bands. */
export async function hasBands(pool: Pool, versionId: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    `select 1 from job where version_id = $1 and input ? 'band' limit 1`,
    [versionId],
  );
  return rowCount === 1;
}

/** Seconds that the bands of a frame have taken, one after the other. */
export async function secondsOfBands(pool: Pool, versionId: string, group: string): Promise<number> {
  const { rows } = await pool.query<{ seconds: number | null }>(
    `select sum(extract(epoch from ended - started))::float8 as seconds from job
     where version_id = $1 and kind = 'render' and input->'band'->>'group' = $2`,
    [versionId, group],
  );
  return rows[0]?.seconds ?? 0;
}

/** Forgets cancelled jobs that would only have added something to what is there. */
export async function forgetCancelledAdditions(pool: Pool, versionId: string): Promise<void> {
  const { rows } = await pool.query<{ id: string }>(
    `delete from job where version_id = $1 and kind = 'render' and state = 'cancelled' and input ? 'sums' returning id`,
    [versionId],
  );
  for (const { id } of rows) await announce(pool, JOB_CHANNEL, id);
}

/** Cancels all jobs of a kind that a version has; returns how many there were. */
export async function cancelJobsOf(pool: Pool, versionId: string, kind: string): Promise<number> {
  const { rows } = await pool.query<{ id: string }>(
    `update job set state = 'cancelled', ended = now(), claim = null, message = 'Cancelled'
     where version_id = $1 and kind = $2 and state in ('waiting', 'running') returning id`,
    [versionId, kind],
  );
  for (const { id } of rows) await announce(pool, JOB_CHANNEL, id);
  return rows.length;
}

/** Makes the failed and cancelled jobs of a version wait again, as if they had never been tried. */
export async function restartJobsOf(pool: Pool, versionId: string, kind: string): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    `update job set state = 'waiting', queued = now(), progress = 0, message = '', keep = false, tries = 0,
       started = null, ended = null
     where version_id = $1 and kind = $2 and state in ('failed', 'cancelled') returning id`,
    [versionId, kind],
  );
  return rows.map((r) => r.id);
}

/**
 * Makes the jobs of a version that are not done wait again, with something else in what they were asked for. Whoever works
 * on one hears that it is not theirs any more.
 */
export async function beginAnew(
  client: Client,
  versionId: string,
  kind: string,
  input: object,
): Promise<string[]> {
  const { rows } = await client.query<{ id: string }>(
    `update job set state = 'waiting', queued = now(), claim = null, progress = 0, message = 'Begins anew', keep = false,
       tries = 0, started = null, ended = null, input = input || $3::jsonb
     where version_id = $1 and kind = $2
       and (state in ('waiting', 'running', 'failed') or (state = 'done' and input ? 'band')) returning id`,
    [versionId, kind, JSON.stringify(input)],
  );
  return rows.map((r) => r.id);
}

/** Asks a running job to end with what there is. */
export async function keepJob(pool: Pool, id: string): Promise<boolean> {
  const { rowCount } = await pool.query(`update job set keep = true where id = $1 and state = 'running'`, [
    id,
  ]);
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

/** Says what one looks at of a running job; its worker is told by the announcement. */
export async function noteAttention(pool: Pool, id: string, attention: object): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set attention = $2 where id = $1 and state in ('waiting', 'running')`,
    [id, JSON.stringify(attention)],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

/** Ends jobs of a version that have published something and are not at work any more, with what that is. */
export async function endWithSnapshot(pool: Pool, versionId: string): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    `update job set state = 'done', ended = now(), progress = 1, message = 'Kept as it was when it was stopped'
     where version_id = $1 and kind = 'render' and snapshot > 0 and state in ('waiting', 'failed') returning id`,
    [versionId],
  );
  for (const { id } of rows) await announce(pool, JOB_CHANNEL, id);
  return rows.map((r) => r.id);
}

/** Asks all running jobs of a kind that a version has to end with what there is. */
export async function keepJobsOf(pool: Pool, versionId: string, kind: string): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    // A band that waits makes its samples of each pixel, too: without it there is no frame.
    `update job set keep = true where version_id = $1 and kind = $2
       and (state = 'running' or (state = 'waiting' and input ? 'band')) returning id`,
    [versionId, kind],
  );
  for (const { id } of rows) await announce(pool, JOB_CHANNEL, id);
  return rows.map((r) => r.id);
}

/** Keeps the latest look at what a job is making, a PNG. */
export async function noteLook(pool: Pool, { id, claim }: Claimed, png: Uint8Array): Promise<void> {
  await pool.query(
    `with mine as (update job set look = look + 1 where id = $1 and claim = $2 and state = 'running' returning id)
     insert into job_look (job_id, png) select id, $3 from mine
     on conflict (job_id) do update set png = excluded.png`,
    [id, claim, Buffer.from(png)],
  );
}

/** Forgets the looks: what they showed is seen better elsewhere. */
export const dropLook = (client: Client, id: string) =>
  client.query('update job set look = 0 where id = $1', [id]);

export async function lookOf(pool: Pool, id: string): Promise<Buffer | undefined> {
  return (await pool.query<{ png: Buffer }>('select png from job_look where job_id = $1', [id])).rows[0]?.png;
}

/**
 * Jobs that have to go into the queue again: those whose worker has not signed in for a while, and waiting ones that
 * were put back, or that wait although no worker has done anything of their kinds for a while: the queue handed them to
 * one that died before it took them. Between two short jobs nothing runs, either, and a long line of jobs that was offered
 * anew every time would fill the queue with ids that mean nothing any more. Taking one twice does no harm. Those that were tried often enough have failed instead.
 * @param kinds those of one lane
 * @param mine jobs that this worker knows to be alive, whatever the table says after a lost connection
 * @param patience seconds that a worker may be silent; one that waits to be offered again waits three quarters of it
 */
export async function reviveJobs(
  pool: Pool,
  kinds: readonly string[],
  mine: readonly string[],
  patience = 20,
): Promise<{ again: string[]; given: ToldJob[] }> {
  const silent = `state = 'running' and seen < now() - make_interval(secs => $3) and kind = any($1) and id <> all($2)`;
  const unheard = 'make_interval(secs => 0.75 * $3)';
  const given = await pool.query<ToldJob>(
    `update job set state = 'failed', ended = now(), claim = null,
       message = 'It was begun ' || tries || ' times, and the program that worked on it ended each time.'
     where ${silent} and tries >= ${MOST_TRIES} returning ${TOLD}`,
    [kinds, mine, patience],
  );
  const again = await pool.query<{ id: string }>(
    `update job set state = 'waiting', queued = now(), progress = 0, claim = null,
       message = case when state = 'running' then 'Taken up again' else message end
     where (${silent})
       or (kind = any($1) and state = 'waiting' and (queued is null or (queued < now() - ${unheard}
         and not exists (select 1 from job r where r.kind = any($1)
           and (r.state = 'running' or r.ended > now() - ${unheard})))))
     returning id`,
    [kinds, mine, patience],
  );
  return { again: again.rows.map((r) => r.id), given: given.rows };
}
