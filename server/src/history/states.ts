import type { NamedState } from '../contract.ts';
import type { Pool } from '../database/pool.ts';
import type { HistoryKind } from './history.ts';

/** States of one kind of document of shots that were given a name, and stay whatever becomes of the document. */
export class NamedStates<T> {
  constructor(
    private readonly pool: Pool,
    private readonly kind: HistoryKind,
    private readonly parse: (stored: unknown) => T,
  ) {}

  /** Those of a shot, the oldest first. */
  async list(shotId: string): Promise<NamedState[]> {
    const { rows } = await this.pool.query<NamedState>(
      'select id, name, created from named_state where shot_id = $1 and kind = $2 order by created',
      [shotId, this.kind],
    );
    return rows;
  }
  async add(shotId: string, name: string, body: T): Promise<NamedState | undefined> {
    const { rows } = await this.pool.query<NamedState>(
      `insert into named_state (shot_id, kind, name, body)
       select id, $2, $3, $4 from shot where id = $1 and deleted is null returning id, name, created`,
      [shotId, this.kind, name, JSON.stringify(body)],
    );
    return rows[0];
  }
  /** What the document was, as one of today's version. */
  async body(shotId: string, id: string): Promise<T | undefined> {
    const { rows } = await this.pool.query<{ body: unknown }>(
      'select body from named_state where id = $1 and shot_id = $2 and kind = $3',
      [id, shotId, this.kind],
    );
    return rows[0] && this.parse(rows[0].body);
  }
  async remove(shotId: string, id: string): Promise<boolean> {
    const { rowCount } = await this.pool.query(
      'delete from named_state where id = $1 and shot_id = $2 and kind = $3',
      [id, shotId, this.kind],
    );
    return rowCount === 1;
  }
}
