import type { Interpretation } from '@zesty-crow/core/version';
import type { KnownRoles, Version } from '../contract.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { filesOf, type FileRow } from '../files/store.ts';
import type { Client, Pool } from '../database/pool.ts';

export async function versionsOf(pool: Pool, shotId: string): Promise<Version[]> {
  const { rows } = await pool.query<Omit<Version, 'files'>>(
    `select id, number, source, state, unfinished, snapshot, problem, width, height, summary, wishes, created, interpretation
     from version where shot_id = $1 order by number desc`,
    [shotId],
  );
  return Promise.all(rows.map(async (v) => ({ ...v, files: await filesOf(pool, { versionId: v.id }) })));
}

/** Adds the next version of a shot. */
export async function createVersion(
  db: Pool | Client,
  shotId: string,
  source: Version['source'],
  state: Version['state'],
): Promise<{ id: string; number: number }> {
  // The lock on the shot keeps two windows from taking the same number.
  const { rows } = await db.query<{ id: string; number: number }>(
    `with s as (select id from shot where id = $1 for update)
     insert into version (shot_id, number, source, state, interpretation)
     select s.id, 1 + coalesce((select max(number) from version where shot_id = s.id), 0), $2, $3,
       -- What passes are called, and which numbers are whose, holds for the next version, too.
       coalesce((select jsonb_build_object('roles', interpretation->'roles') from version
         where shot_id = s.id and interpretation ? 'roles' order by number desc limit 1), '{}')
     from s
     returning id, number`,
    [shotId, source, state],
  );
  await db.query('update shot set edited = now() where id = $1', [shotId]);
  return rows[0]!;
}

export async function versionById(pool: Pool, id: string) {
  const { rows } = await pool.query<{
    id: string;
    shot_id: string;
    number: number;
    state: Version['state'];
    unfinished: Version['unfinished'];
    interpretation: Interpretation;
  }>(
    `select v.id, v.shot_id, v.number, v.state, v.unfinished, v.interpretation from version v join shot s on s.id = v.shot_id
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

/** Throws a 409 for a version that is not all rendered yet: what is handed over is made of one that is done. */
export function refuseUnfinished({ number, unfinished }: Pick<Version, 'number' | 'unfinished'>): void {
  if (unfinished)
    throw new ProblemError(
      409,
      `v${number} is not finished.`,
      'Wait until it is rendered, or stop and keep it in Render.',
    );
}

/** Pixels across and down, and whether there is a picture; nothing is known before it was read. */
export async function frameFacts(
  pool: Pool,
  id: string,
): Promise<{ width: number; height: number; hasPicture: boolean; passes: string[] | undefined }> {
  const { rows } = await pool.query<{
    width: number | null;
    height: number | null;
    picture: string | null;
    passes: string[] | null;
  }>(
    `select width, height, summary->>'hasPicture' as picture, summary->'passes' as passes from version where id = $1`,
    [id],
  );
  const [row] = rows;
  return {
    width: row?.width ?? 0,
    height: row?.height ?? 0,
    hasPicture: row?.picture !== 'false',
    passes: row?.passes ?? undefined,
  };
}

/** What opening a version takes: its files, and how the artist wants them understood. */
export async function openable(
  pool: Pool,
  id: string,
): Promise<{ files: FileRow[]; interpretation: Interpretation }> {
  const { rows } = await pool.query<{ interpretation: Interpretation }>(
    'select interpretation from version where id = $1',
    [id],
  );
  return { files: await filesOf(pool, { versionId: id }), interpretation: rows[0]?.interpretation ?? {} };
}

/** What was said of the passes of other shots, the latest version of each, the latest first. */
export async function knownRoles(pool: Pool, except: string): Promise<KnownRoles[]> {
  const { rows } = await pool.query<KnownRoles>(
    `select shot, version, roles from (
       select distinct on (s.id) s.name as shot, v.number as version, v.interpretation->'roles' as roles, v.created
       from version v join shot s on s.id = v.shot_id
       where s.deleted is null and s.id <> $1 and v.interpretation->'roles' <> '{}'::jsonb
       order by s.id, v.number desc) t
     order by created desc limit 50`,
    [except],
  );
  return rows;
}
