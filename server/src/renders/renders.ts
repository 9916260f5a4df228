import { upgradePlan, type Measured, type Plan } from '@zesty-crow/core/plan';
import type { Client, Pool } from '../database/pool.ts';
import type { Render } from '../contract.ts';

/** Renders of a shot, newest first. */
export async function rendersOf(pool: Pool, shotId: string): Promise<Render[]> {
  const { rows } = await pool.query<Render>(
    `select v.id as "versionId", v.number, v.state, v.unfinished, v.snapshot, v.problem, v.created, v.request, v.plan, v.measured,
       coalesce((select json_agg(json_build_object('id', j.id, 'state', j.state, 'progress', j.progress,
           'message', j.message, 'frame', j.frame, 'look', j.look, 'snapshot', j.snapshot, 'started', j.started, 'ended', j.ended)
           order by j.created, j.frame)
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

export async function noteMeasured(
  client: Client,
  versionId: string,
  frame: number,
  measured: Measured,
): Promise<void> {
  // In place of what the frame had cost before it was finished.
  await client.query(
    `update version set measured = coalesce((select jsonb_agg(m) from jsonb_array_elements(measured) m
         where m->'unfinished' is null or (m->>'frame')::int <> $3), '[]') || $2::jsonb
     where id = $1`,
    [versionId, JSON.stringify([{ ...measured, frame }]), frame],
  );
}
