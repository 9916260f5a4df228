import { upgradeParcelList, type Parcel, type ParcelList, type ParcelShot } from '@zesty-crow/core/parcels';
import type { ChangeList } from '@zesty-crow/core/changes';
import type { ParcelRun, ParcelRunFile } from '../contract.ts';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';

/** What a run was asked for. */
export interface RunBody extends Pick<ParcelShot, 'shot' | 'version' | 'frames'> {
  parcels: Parcel[];
  /** Of the document that the parcels are from. */
  parcelsVersion: number;
  list: ChangeList;
}

/** A file that came of a parcel, or that was there already. */
export interface RunFile {
  parcel: string;
  variant: string;
  frame: number | null;
  key: string;
  name: string;
  fileId: string;
  size: number;
  sha256: string;
  reused: boolean;
}

/** Every statement about runs of parcels stands in this file. */
export async function insertRun(
  client: Client,
  run: { shotId: string; versionId: string; body: RunBody },
): Promise<string> {
  const { rows } = await client.query<{ id: string }>(
    'insert into parcel_run (shot_id, version_id, body) values ($1, $2, $3) returning id',
    [run.shotId, run.versionId, JSON.stringify(run.body)],
  );
  return rows[0]!.id;
}

export async function runBody(pool: Pool, id: string): Promise<RunBody | undefined> {
  const { rows } = await pool.query<{ body: RunBody }>('select body from parcel_run where id = $1', [id]);
  const body = rows[0]?.body;
  // A run that was begun before an update goes on as it was meant then.
  const { parcelsVersion: version = 1, parcels } = body ?? {};
  const list = upgradeParcelList({ format: 'zesty-crow/parcels', version, parcels }) as ParcelList;
  return body && { ...body, parcels: list.parcels };
}

export async function insertFiles(db: Pool | Client, run: string, files: readonly RunFile[]): Promise<void> {
  for (const f of files)
    await db.query(
      `insert into parcel_file (run_id, parcel, variant, frame, key, name, file_id, size, sha256, reused)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
      [run, f.parcel, f.variant, f.frame, f.key, f.name, f.fileId, f.size, f.sha256, f.reused],
    );
}

/** Files that were made from the very same before and are still there, by their key: those of the latest run that made them. */
export async function knownFiles(
  pool: Pool,
  shotId: string,
  keys: readonly string[],
): Promise<Map<string, RunFile[]>> {
  const { rows } = await pool.query<RunFile & { run: string }>(
    `select f.run_id as run, f.parcel, f.variant, f.frame, f.key, f.name, f.file_id as "fileId", f.size::float8 as size, f.sha256, true as reused
     from parcel_file f join parcel_run r on r.id = f.run_id
     where r.shot_id = $1 and f.key = any($2) order by r.created desc, f.id`,
    [shotId, keys],
  );
  const found = new Map<string, { run: string; files: RunFile[] }>();
  for (const { run, ...file } of rows) {
    const own = found.get(file.key) ?? { run, files: [] };
    found.set(file.key, own);
    if (own.run === run) own.files.push(file);
  }
  // One that has been deleted meanwhile is made again, with all that came with it.
  return new Map(
    [...found].flatMap(([key, { files }]) => (files.some((f) => f.fileId === null) ? [] : [[key, files]])),
  );
}

/** Notes that a run is over once no job of it is left; true for the one who finds that. */
export async function endRun(pool: Pool, id: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update parcel_run set ended = now() where id = $1 and ended is null and not exists
       (select from job where kind = 'parcel' and input->>'run' = $1::text and state in ('waiting', 'running'))`,
    [id],
  );
  return rowCount === 1;
}

const RUNS = `select r.id, r.version_id as "versionId", r.created, r.ended,
    (r.body->>'version')::int as version,
    (select coalesce(json_agg(json_build_object('id', p->>'id', 'title', p->>'title', 'folder', p->>'folder')), '[]')
       from jsonb_array_elements(r.body->'parcels') p) as parcels,
    (select count(*)::int from job where kind = 'parcel' and input->>'run' = r.id::text) as jobs,
    (select count(*)::int from job where kind = 'parcel' and input->>'run' = r.id::text and state = 'done') as done,
    (select coalesce(json_agg(json_build_object('frame', j.frame, 'parcel', j.input->>'parcel', 'message', j.message)), '[]')
       from job j where kind = 'parcel' and input->>'run' = r.id::text and state in ('failed', 'cancelled')) as failed,
    (select coalesce(sum(progress), 0)::float8 from job where kind = 'parcel' and input->>'run' = r.id::text) as progress,
    (select count(*)::int from parcel_file f where f.run_id = r.id) as files,
    (select count(*)::int from parcel_file f where f.run_id = r.id and f.reused) as reused,
    (select coalesce(sum(size), 0)::float8 from parcel_file f where f.run_id = r.id) as size,
    (select json_build_object('state', j.state, 'message', j.message) from job j
       where kind = 'place' and input->>'run' = r.id::text order by created desc limit 1) as placed
  from parcel_run r`;

/** The latest runs of a shot, the latest first. */
export async function runsOf(pool: Pool, shotId: string): Promise<ParcelRun[]> {
  return (
    await pool.query<ParcelRun>(`${RUNS} where r.shot_id = $1 order by r.created desc limit 50`, [shotId])
  ).rows;
}

/** All files of a run, and what each was in the run before: new, another one, or the same. */
export async function filesOfRun(pool: Pool, id: string): Promise<ParcelRunFile[]> {
  const { rows } = await pool.query<ParcelRunFile>(
    `with last as (
       select r.id from parcel_run r, parcel_run own
       where own.id = $1 and r.shot_id = own.shot_id and r.created < own.created order by r.created desc limit 1)
     select f.parcel, f.variant, f.frame, f.name, f.file_id as "fileId", f.size::float8 as size, f.sha256, f.reused,
       case when b.sha256 is null then 'new' when b.sha256 = f.sha256 then 'same' else 'changed' end as against
     from parcel_file f left join lateral
       (select sha256 from parcel_file where run_id = (select id from last) and name = f.name limit 1) b on true
     where f.run_id = $1 order by f.parcel, f.frame nulls first, f.name`,
    [id],
  );
  return rows;
}

/** Deletes a run and the files that no other run has taken from it. What lies in folders stays. */
export async function deleteRun(pool: Pool, id: string): Promise<void> {
  await inTransaction(pool, async (client) => {
    await client.query(
      `delete from file where id in (
         select f.file_id from parcel_file f where f.run_id = $1 and f.file_id is not null
           and not exists (select 1 from parcel_file o where o.file_id = f.file_id and o.run_id <> $1))`,
      [id],
    );
    await client.query('delete from parcel_run where id = $1', [id]);
  });
}

/** Ids of the parcels of a run of which a frame could not be made. */
export async function failedParcels(pool: Pool, id: string): Promise<Set<string>> {
  const { rows } = await pool.query<{ parcel: string }>(
    `select distinct input->>'parcel' as parcel from job
     where kind = 'parcel' and input->>'run' = $1 and state in ('failed', 'cancelled')`,
    [id],
  );
  return new Set(rows.map((r) => r.parcel));
}

/** Ids of jobs of a run that are not over. */
export async function openJobs(pool: Pool, id: string): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    `select id from job where kind in ('parcel', 'place') and input->>'run' = $1 and state in ('waiting', 'running')`,
    [id],
  );
  return rows.map((r) => r.id);
}

/**
 * Ends a run with all of its jobs, whatever they are doing, in one statement; what was made stays.
 * @returns its shot and the jobs that were ended; undefined if there is no such run
 */
export async function cancelRun(
  pool: Pool,
  id: string,
): Promise<{ shotId: string; jobs: string[] } | undefined> {
  const { rows } = await pool.query<{ shotId: string; job: string | null }>(
    `with own as (update parcel_run set ended = coalesce(ended, now()) where id = $1 returning shot_id),
       over as (update job set state = 'cancelled', ended = now(), claim = null, message = 'Cancelled'
         where kind in ('parcel', 'place') and input->>'run' = $1::text and state in ('waiting', 'running')
         returning id)
     select own.shot_id as "shotId", over.id as job from own left join over on true`,
    [id],
  );
  return rows[0] && { shotId: rows[0].shotId, jobs: rows.flatMap((r) => r.job ?? []) };
}

/** Seconds that a frame of a parcel took in the mean, of those made lately; undefined if none was. */
export async function secondsOf(pool: Pool, shotId: string, parcel: string): Promise<number | undefined> {
  const { rows } = await pool.query<{ seconds: number | null }>(
    `select avg(extract(epoch from ended - started))::float8 as seconds from
       (select started, ended from job where kind = 'parcel' and shot_id = $1 and input->>'parcel' = $2 and state = 'done'
        order by ended desc limit 20) j`,
    [shotId, parcel],
  );
  return rows[0]?.seconds ?? undefined;
}
