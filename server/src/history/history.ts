import { patched, patchOf, type Patch } from '@zesty-crow/core/fields';
import type { HistoryState, HistorySteps } from '../contract.ts';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';

export type HistoryKind = 'changes' | 'plan' | 'parcels';

/** Someone else has edited the document since; carries the state as it is now. */
export class ConflictError extends Error {
  override name = 'ConflictError';
  constructor(readonly current: HistoryState<unknown>) {
    super('The document was edited elsewhere.');
  }
}

/** Of so many steps one keeps the whole document; going to any of them takes no more differences than that. */
const WHOLE_EVERY = 32;
/** A difference that is longer than this share of the document is not worth it. */
const WORTH = 0.5;

/**
 * The edits of one kind of document, kept for undo and redo: most steps as what was different in them. `empty` is what
 * it is before the first edit, `upgrade` brings what an earlier version has stored up to date, and `open` counts what of it
 * is still to be done, for the wall of shots.
 */
export class History<T> {
  constructor(
    readonly kind: HistoryKind,
    private readonly empty: () => T,
    private readonly upgrade: (stored: unknown) => unknown,
    private readonly open: (body: T) => number = () => 0,
  ) {}

  private async load(client: Pool | Client, shotId: string, lock: boolean) {
    const { rows } = await client.query<{ revision: number | null; step: number | null }>(
      `select h.revision, h.step from shot s left join history h on h.shot_id = s.id and h.kind = $2
       where s.id = $1 and s.deleted is null ${lock ? 'for update of s' : ''}`,
      [shotId, this.kind],
    );
    if (!rows[0]) return undefined;
    const at = rows[0].step ?? 0;
    const steps = await client.query<{ step: number; label: string }>(
      `select step, label from history_step
       where shot_id = $1 and kind = $2 and step between $3 - 1 and $3 + 1 order by step`,
      [shotId, this.kind, at],
    );
    const current = steps.rows.find((s) => s.step === at);
    const stored = await this.stored(client, shotId, at);
    const state: HistoryState<T> = {
      revision: rows[0].revision ?? 0,
      body: this.ofToday(stored),
    };
    // Before the oldest step that is kept nothing is known; before the very first one there was nothing.
    if (current && (at === 1 || steps.rows[0]!.step < at)) state.undo = current.label;
    const next = steps.rows.find((s) => s.step === at + 1);
    if (next) state.redo = next.label;
    return { at, state, stored };
  }

  private ofToday(stored: unknown): T {
    return stored === undefined ? this.empty() : (this.upgrade(stored) as T);
  }

  /** The document at a step as it was stored, by whatever version; undefined if there is no such step. */
  private async stored(client: Pool | Client, shotId: string, step: number): Promise<unknown> {
    const { rows } = await client.query<{ step: number; body: unknown; difference: Patch | null }>(
      `select step, body, difference from history_step where shot_id = $1 and kind = $2 and step <= $3
         and step >= (select max(step) from history_step
           where shot_id = $1 and kind = $2 and step <= $3 and body is not null) order by step`,
      [shotId, this.kind, step],
    );
    if (rows.at(-1)?.step !== step) return undefined;
    return rows.reduce<unknown>(
      (document, { body, difference }) => (difference ? patched(document, difference) : body),
      undefined,
    );
  }

  /** The document as it is, or undefined if there is no such shot. */
  async state(pool: Pool, shotId: string): Promise<HistoryState<T> | undefined> {
    return (await this.load(pool, shotId, false))?.state;
  }

  /** Runs one step of the history under a lock, after checking that the caller saw the latest revision. */
  private async step(
    pool: Pool,
    shotId: string,
    revision: number,
    work: (client: Client, at: number, state: HistoryState<T>, stored: unknown) => Promise<number>,
  ): Promise<HistoryState<T> | undefined> {
    return inTransaction(pool, async (client) => {
      const loaded = await this.load(client, shotId, true);
      if (!loaded) return undefined;
      if (loaded.state.revision !== revision) throw new ConflictError(loaded.state);
      await client.query('insert into history (shot_id, kind) values ($1, $2) on conflict do nothing', [
        shotId,
        this.kind,
      ]);
      const at = await work(client, loaded.at, loaded.state, loaded.stored);
      if (at !== loaded.at) {
        await client.query(
          'update history set step = $3, revision = revision + 1, open_changes = $4 where shot_id = $1 and kind = $2',
          [shotId, this.kind, at, this.open(this.ofToday(await this.stored(client, shotId, at)))],
        );
        await client.query('update shot set edited = now() where id = $1', [shotId]);
      }
      return (await this.load(client, shotId, false))!.state;
    });
  }

  /** Records a new state. What could be redone is forgotten, as after any edit. */
  save(pool: Pool, shotId: string, revision: number, label: string, body: T) {
    return this.step(pool, shotId, revision, async (client, at, _, stored) => {
      await client.query('delete from history_step where shot_id = $1 and kind = $2 and step > $3', [
        shotId,
        this.kind,
        at,
      ]);
      const whole = JSON.stringify(body);
      const different = JSON.stringify(patchOf(stored, body) ?? { keys: {} });
      const kept = at % WHOLE_EVERY === 0 || stored === undefined || different.length > WORTH * whole.length;
      await client.query(
        'insert into history_step (shot_id, kind, step, label, body, difference) values ($1, $2, $3, $4, $5, $6)',
        [shotId, this.kind, at + 1, label, kept ? whole : null, kept ? null : different],
      );
      return at + 1;
    });
  }
  /** Goes to any step of it, as undo and redo do one by one; 0 is before the first. */
  go(pool: Pool, shotId: string, revision: number, to: number) {
    return this.step(pool, shotId, revision, async (client, at) => {
      if (to === 0) return at > 0 && (await this.has(client, shotId, 1)) ? 0 : at;
      return (await this.has(client, shotId, to)) ? to : at;
    });
  }
  private async has(client: Client, shotId: string, step: number): Promise<boolean> {
    const { rowCount } = await client.query(
      'select 1 from history_step where shot_id = $1 and kind = $2 and step = $3',
      [shotId, this.kind, step],
    );
    return rowCount === 1;
  }
  /**
   * The steps that there are, what could be redone among them.
   * @param before only those below this one; undefined from the newest on
   */
  async steps(pool: Pool, shotId: string, count: number, before?: number): Promise<HistorySteps> {
    const { rows } = await pool.query<HistorySteps['steps'][number]>(
      `select step, label, created from history_step
       where shot_id = $1 and kind = $2 and ($3::int is null or step < $3) order by step desc limit $4`,
      [shotId, this.kind, before ?? null, count],
    );
    const { rows: at } = await pool.query<{ step: number }>(
      'select step from history where shot_id = $1 and kind = $2',
      [shotId, this.kind],
    );
    return { at: at[0]?.step ?? 0, steps: rows };
  }
  undo(pool: Pool, shotId: string, revision: number) {
    return this.step(pool, shotId, revision, async (_c, at, s) => (s.undo === undefined ? at : at - 1));
  }
  redo(pool: Pool, shotId: string, revision: number) {
    return this.step(pool, shotId, revision, async (_c, at, s) => (s.redo === undefined ? at : at + 1));
  }
}
