import { upgradePlan, type Measured, type Plan } from '@zesty-crow/core/plan';
import type { Client, Pool } from '../database/pool.ts';
import type { Render } from '../contract.ts';

/** Renders of a shot, newest first. */
export async function rendersOf(pool: Pool, shotId: string): Promise<Render[]> {
  const { rows } = await pool.query<Render>(
    `select v.id as "versionId", v.number, v.state, v.unfinished, v.snapshot, v.problem, v.created, v.request, v.plan, v.measured,
       coalesce((select sum(size) from file where version_id = v.id and role = 'sums' and name = 'sums' and not arriving), 0)::float8 as sums,
       coalesce((select json_agg(json_build_object('id', j.id, 'state', j.state, 'progress', j.progress,
           'message', j.message, 'frame', j.frame, 'look', j.look, 'snapshot', j.snapshot, 'part', (j.input->'band'->>'index')::int + 1, 'started', j.started, 'ended', j.ended)
           order by j.created, j.frame, (j.input->'band'->>'index')::int)
         from job j where j.version_id = v.id and j.kind = 'render'), '[]') as jobs
     from version v where v.shot_id = $1 and v.source = 'render' order by v.number desc limit 50`,
    [shotId],
  );
  // They may have been stored by an earlier version.
  return rows.map((r) => ({ ...r, plan: r.plan && (upgradePlan(r.plan) as Plan) }));
}

/** What earlier renders of the shot's scene cost, newest first. */
export async function measuredOf(pool: Pool, shotId: string): Promise<Measured[]> {
  const { rows } = await pool.query<{ measured: Measured[] }>(
    `select measured from version where shot_id = $1 and jsonb_array_length(measured) > 0
     order by number desc limit 10`,
    [shotId],
  );
  return rows.flatMap((r) => r.measured);
}

/**
 * Notes what a frame cost, in place of what it had cost before it was finished.
 * @param adds samples were added to those that there were: what those cost is added, too
 */
export async function noteMeasured(
  client: Client,
  versionId: string,
  frame: number,
  measured: Measured,
  adds = false,
): Promise<void> {
  const { rows } = await client.query<{ measured: (Measured & { frame: number })[] }>(
    'select measured from version where id = $1 for update',
    [versionId],
  );
  const all = rows[0]?.measured ?? [];
  const isReplaced = (m: Measured & { frame: number }) =>
    m.frame === frame && (m.unfinished || (adds && m.idsOnly === measured.idsOnly));
  const earlier = adds ? all.find((m) => isReplaced(m) && !m.unfinished) : undefined;
  const spent = (id: string) => earlier?.passes.find((p) => p.id === id)?.seconds ?? 0;
  const whole: Measured & { frame: number } = {
    ...measured,
    frame,
    seconds: measured.seconds + spent('picture'),
    passes: measured.passes.map((p) => (p.id === 'picture' ? { ...p, seconds: p.seconds + spent(p.id) } : p)),
  };
  await client.query('update version set measured = $2 where id = $1', [
    versionId,
    JSON.stringify([...all.filter((m) => !isReplaced(m)), whole]),
  ]);
}
