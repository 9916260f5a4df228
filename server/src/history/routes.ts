import { Hono } from 'hono';
import { parseChangeList } from '@zesty-crow/core/changes';
import { parsePlan } from '@zesty-crow/core/plan';
import { notFound, ProblemError } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { bodyOf, idParam, parsed, readBody } from '../http/validate.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { changeHistory, planHistory } from './documents.ts';
import type { HistoryState } from '../contract.ts';
import { ConflictError, type History } from './history.ts';

const revision = { type: 'integer', minimum: 0 } as const;
const move = bodyOf<{ revision: number }>({
  type: 'object',
  additionalProperties: false,
  required: ['revision'],
  properties: { revision },
});

/** Reads, saves, undoes and redoes one kind of document; each guarded by the revision that the caller saw. */
function routesOf<T>(
  { pool }: Services,
  path: string,
  name: string,
  history: History<T>,
  parse: (body: unknown) => T,
): Hono {
  const edit = bodyOf<{ revision: number; label: string; body: unknown }>({
    type: 'object',
    additionalProperties: false,
    required: ['revision', 'label', 'body'],
    properties: { revision, label: { type: 'string', minLength: 1, maxLength: 200 }, body: {} },
  });
  const answer = async (shotId: string, work: Promise<HistoryState<T> | undefined>) => {
    try {
      const state = await work;
      if (!state) throw notFound('shot');
      await announce(pool, SHOT_CHANNEL, shotId);
      return state;
    } catch (error) {
      if (!(error instanceof ConflictError)) throw error;
      throw new ProblemError(
        409,
        `The ${name} was edited in another window.`,
        `Nothing was overwritten. The ${name} as it is now has been loaded; make your last edit again if it is still wanted.`,
        { current: error.current },
      );
    }
  };
  const app = new Hono();
  app.get(`/:id/${path}`, async (c) => {
    const state = await history.state(pool, idParam(c, 'shot'));
    if (!state) throw notFound('shot');
    return c.json(state);
  });
  app.put(`/:id/${path}`, async (c) => {
    const id = idParam(c, 'shot');
    const read = await readBody(c, edit);
    const body = parsed(name, parse, read.body);
    return c.json(await answer(id, history.save(pool, id, read.revision, read.label, body)));
  });
  for (const way of ['undo', 'redo'] as const)
    app.post(`/:id/${path}/${way}`, async (c) => {
      const id = idParam(c, 'shot');
      return c.json(await answer(id, history[way](pool, id, (await readBody(c, move)).revision)));
    });
  return app;
}

/** The documents of a shot: its change list and its ID plan. */
export function historyRoutes(services: Services): Hono {
  const app = new Hono();
  app.route('/', routesOf(services, 'changes', 'change list', changeHistory, parseChangeList));
  app.route('/', routesOf(services, 'plan', 'plan', planHistory, parsePlan));
  return app;
}
