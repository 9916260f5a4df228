import { emptyChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';

/** A shot's change list with its place in the history. */
export interface ChangeState {
  /** Rises with every edit, undo and redo. */
  revision: number;
  list: ChangeList;
  /** What undo and redo would take back or do again; absent where there is nothing. */
  undo?: string;
  redo?: string;
}

/** Someone else has edited the list since; carries the state as it is now. */
export class Conflict extends Error {
  constructor(readonly current: ChangeState) {
    super('The change list was edited elsewhere.');
  }
}

/** Steps kept for undo; older ones are forgotten. */
const KEPT = 500;

async function load(client: Pool | Client, shotId: string, lock: boolean) {
  const { rows } = await client.query<{ change_revision: number; change_step: number }>(
    `select change_revision, change_step from shot where id = $1 and deleted is null ${lock ? 'for update' : ''}`,
    [shotId],
  );
  const shot = rows[0];
  if (!shot) return undefined;
  const steps = await client.query<{ step: number; label: string; list: ChangeList | null }>(
    `select step, label, case when step = $2 then list end as list
     from change_step where shot_id = $1 and step between $2 and $2 + 1 order by step`,
    [shotId, shot.change_step],
  );
  const current = steps.rows.find((s) => s.step === shot.change_step);
  const state: ChangeState = { revision: shot.change_revision, list: current?.list ?? emptyChangeList() };
  if (current) state.undo = current.label;
  const next = steps.rows.find((s) => s.step === shot.change_step + 1);
  if (next) state.redo = next.label;
  return { shot, state };
}

/** The current list, or undefined if there is no such shot. */
export async function changeState(pool: Pool, shotId: string): Promise<ChangeState | undefined> {
  return (await load(pool, shotId, false))?.state;
}

/** Runs one step of the history under a lock, after checking that the caller saw the latest revision. */
async function step(
  pool: Pool,
  shotId: string,
  revision: number,
  work: (client: Client, at: number, state: ChangeState) => Promise<number>,
): Promise<ChangeState | undefined> {
  return inTransaction(pool, async (client) => {
    const loaded = await load(client, shotId, true);
    if (!loaded) return undefined;
    if (loaded.state.revision !== revision) throw new Conflict(loaded.state);
    const at = await work(client, loaded.shot.change_step, loaded.state);
    if (at !== loaded.shot.change_step)
      await client.query(
        'update shot set change_step = $2, change_revision = change_revision + 1, edited = now() where id = $1',
        [shotId, at],
      );
    return (await load(client, shotId, false))!.state;
  });
}

/** Records a new state of the list. What could be redone is forgotten, as after any edit. */
export const saveChanges = (pool: Pool, shotId: string, revision: number, label: string, list: ChangeList) =>
  step(pool, shotId, revision, async (client, at) => {
    await client.query('delete from change_step where shot_id = $1 and (step > $2 or step <= $2 - $3)', [
      shotId,
      at,
      KEPT,
    ]);
    await client.query('insert into change_step (shot_id, step, label, list) values ($1, $2, $3, $4)', [
      shotId,
      at + 1,
      label,
      JSON.stringify(list),
    ]);
    return at + 1;
  });

export const undoChanges = (pool: Pool, shotId: string, revision: number) =>
  step(pool, shotId, revision, async (_client, at, state) => (state.undo === undefined ? at : at - 1));

export const redoChanges = (pool: Pool, shotId: string, revision: number) =>
  step(pool, shotId, revision, async (_client, at, state) => (state.redo === undefined ? at : at + 1));
