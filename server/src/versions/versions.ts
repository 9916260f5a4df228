import { notFound } from '../http/problem.ts';
import { type FileRow, filesOf } from '../files/store.ts';
import type { Pool } from '../database/pool.ts';

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

/** A version that is there; throws a 404 for one that is not. */
export async function findVersion(pool: Pool, id: string) {
  const version = await versionById(pool, id);
  if (!version) throw notFound('version');
  return version;
}
