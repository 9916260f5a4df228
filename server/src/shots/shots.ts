import type { Pool } from '../database/pool.ts';
import { filesOf, type FileRow } from '../files/store.ts';

/** A shot as the wall of pictures shows it. */
export interface ShotCard {
  id: string;
  name: string;
  created: string;
  edited: string;
  version: number | null;
  versionState: string | null;
  problem: string | null;
  preview: string | null;
  openChanges: number;
  hasScene: boolean;
}

export interface VersionRow {
  id: string;
  number: number;
  source: 'import' | 'render';
  state: 'receiving' | 'reading' | 'rendering' | 'ready' | 'failed';
  problem: string | null;
  width: number | null;
  height: number | null;
  summary: unknown;
  /** Wishes of the plan with the picks that serve them here. */
  wishes: unknown;
  created: string;
  files: FileRow[];
}

const CARD = `
  select s.id, s.name, s.created, s.edited, v.number as "version", v.state as "versionState", v.problem,
    (select f.id from file f join version p on p.id = f.version_id
      where p.shot_id = s.id and f.role = 'preview' order by p.number desc limit 1) as "preview",
    coalesce((select count(*)::int from history h join history_step c using (shot_id, kind, step),
        jsonb_array_elements(c.body->'changes') e
      where h.shot_id = s.id and h.kind = 'changes' and not (e->>'done')::boolean), 0) as "openChanges",
    exists (select 1 from file f where f.shot_id = s.id and f.role = 'scene') as "hasScene"
  from shot s
  left join lateral (select * from version where shot_id = s.id and state <> 'rendering' order by number desc limit 1) v on true`;

/** Shots that are not deleted, last edited first. */
export async function listShots(pool: Pool): Promise<ShotCard[]> {
  return (await pool.query<ShotCard>(`${CARD} where s.deleted is null order by s.edited desc`)).rows;
}

export async function shotCard(pool: Pool, id: string): Promise<ShotCard | undefined> {
  return (await pool.query<ShotCard>(`${CARD} where s.id = $1 and s.deleted is null`, [id])).rows[0];
}

export async function createShot(pool: Pool, name: string): Promise<string> {
  return (await pool.query<{ id: string }>('insert into shot (name) values ($1) returning id', [name]))
    .rows[0]!.id;
}

export async function renameShot(pool: Pool, id: string, name: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    'update shot set name = $2, edited = now() where id = $1 and deleted is null',
    [id, name],
  );
  return rowCount === 1;
}

/** Deleting only marks; {@link purgeShots} removes for good after a day. */
export async function setDeleted(pool: Pool, id: string, deleted: boolean): Promise<boolean> {
  const { rowCount } = await pool.query(
    'update shot set deleted = case when $2 then coalesce(deleted, now()) end where id = $1',
    [id, deleted],
  );
  return rowCount === 1;
}

/** Removes shots that were deleted more than a day ago, with all their files. */
export async function purgeShots(pool: Pool): Promise<void> {
  await pool.query(`delete from shot where deleted < now() - interval '1 day'`);
}

export async function versionsOf(pool: Pool, shotId: string): Promise<VersionRow[]> {
  const { rows } = await pool.query<Omit<VersionRow, 'files'>>(
    `select id, number, source, state, problem, width, height, summary, wishes, created
     from version where shot_id = $1 order by number desc`,
    [shotId],
  );
  return Promise.all(rows.map(async (v) => ({ ...v, files: await filesOf(pool, { versionId: v.id }) })));
}

/** Adds the next version of a shot. */
export async function createVersion(
  pool: Pool,
  shotId: string,
  source: VersionRow['source'],
  state: VersionRow['state'],
): Promise<{ id: string; number: number }> {
  // The lock on the shot keeps two windows from taking the same number.
  const { rows } = await pool.query<{ id: string; number: number }>(
    `with s as (select id from shot where id = $1 for update)
     insert into version (shot_id, number, source, state)
     select s.id, 1 + coalesce((select max(number) from version where shot_id = s.id), 0), $2, $3 from s
     returning id, number`,
    [shotId, source, state],
  );
  await pool.query('update shot set edited = now() where id = $1', [shotId]);
  return rows[0]!;
}

export async function versionById(pool: Pool, id: string) {
  const { rows } = await pool.query<{
    id: string;
    shot_id: string;
    number: number;
    state: VersionRow['state'];
  }>(
    `select v.id, v.shot_id, v.number, v.state from version v join shot s on s.id = v.shot_id
     where v.id = $1 and s.deleted is null`,
    [id],
  );
  return rows[0];
}
