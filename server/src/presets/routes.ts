import { Hono } from 'hono';
import { emptyChangeList, noMask, parseChangeList, type StepUse } from '@zesty-crow/core/changes';
import type { Preset } from '../contract.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import type { Services } from '../services.ts';

const given = bodyOf<{ name: string; corrections: unknown[] }>({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'corrections'],
  properties: {
    name: { type: 'string', minLength: 1, maxLength: 100, pattern: '\\S' },
    corrections: { type: 'array', minItems: 1, maxItems: 100 },
  },
});

const ROWS = 'select id, name, corrections, version from preset order by lower(name), created';
const { version: NEWEST } = emptyChangeList();

/** Corrections as they stand in a change list of a version: brought up to date, and checked. */
function checked(corrections: unknown, version: number): readonly StepUse[] {
  const change = {
    ...noMask(),
    id: 'preset',
    words: '',
    on: true,
    done: false,
    plainEdges: false,
    corrections,
  };
  return parseChangeList({ ...emptyChangeList(), version, changes: [change] }).changes[0]!.corrections;
}

/** Presets of corrections: those of everybody who uses this installation. */
export function presetRoutes({ pool }: Services): Hono {
  const app = new Hono();
  app.get('/', async (c) => {
    const { rows } = await pool.query<Preset & { version: number }>(ROWS);
    const presets = rows.map(({ version, ...p }) => ({ ...p, corrections: checked(p.corrections, version) }));
    return c.json(presets);
  });
  app.post('/', async (c) => {
    const { name, corrections } = await readBody(c, given);
    let own: readonly StepUse[];
    try {
      own = checked(corrections, NEWEST);
    } catch (error) {
      throw new ProblemError(400, 'That is no preset.', (error as Error).message);
    }
    const { rows } = await pool.query<Preset>(
      'insert into preset (name, corrections, version) values ($1, $2, $3) returning id, name, corrections',
      [name.trim(), JSON.stringify(own), NEWEST],
    );
    return c.json(rows[0]!, 201);
  });
  app.delete('/:id', async (c) => {
    const { rowCount } = await pool.query('delete from preset where id = $1', [idParam(c, 'preset')]);
    if (!rowCount) throw notFound('preset');
    return c.body(null, 204);
  });
  return app;
}
