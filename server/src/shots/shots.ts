import { notFound } from '../http/problem.ts';
import type { ShotCard } from '../contract.ts';
import { inTransaction, type Pool } from '../database/pool.ts';

const CARD = `
  select s.id, s.name, s.created, s.edited, v.number as "version", v.id as "versionId", v.state as "versionState", v.problem,
    (select f.id from file f join version p on p.id = f.version_id
      where p.shot_id = s.id and f.role = 'preview' and not f.arriving
      order by p.number desc, f.frame nulls first, f.created desc limit 1) as "preview",
    coalesce((select h.open_changes from history h where h.shot_id = s.id and h.kind = 'changes'), 0) as "openChanges",
    exists (select 1 from file f where f.shot_id = s.id and f.role = 'scene') as "hasScene"
  from shot s
  left join lateral (select * from version where shot_id = s.id and state <> 'rendering' order by number desc limit 1) v on true`;

/** Shots that are not deleted, last edited first. */
export async function listShots(pool: Pool): Promise<ShotCard[]> {
  return (
    await pool.query<ShotCard>(`${CARD} where s.deleted is null and not s.arriving order by s.edited desc`)
  ).rows;
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

/** The id of a shot that is there; throws a 404 for one that is not. */
export async function findShot(pool: Pool, id: string): Promise<string> {
  const { rowCount } = await pool.query('select 1 from shot where id = $1 and deleted is null', [id]);
  if (!rowCount) throw notFound('shot');
  return id;
}

/** Removes versions for which nothing has arrived for two hours: the page that sent their files was closed. */
export async function purgeUploads(pool: Pool): Promise<void> {
  const silent = `state = 'receiving' and heard < now() - interval '2 hours'`;
  await inTransaction(pool, async (client) => {
    // A file that is just arriving holds its version, which then is passed over.
    const { rows } = await client.query<{ id: string }>(
      `select id from version where ${silent} for update skip locked`,
    );
    // Another look, now that nothing can arrive any more: a last file may have been stored just before.
    await client.query(
      `delete from version v where id = any($1) and ${silent}
         and not exists (select 1 from file where version_id = v.id and created > now() - interval '2 hours')`,
      [rows.map((r) => r.id)],
    );
  });
}
