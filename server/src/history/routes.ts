import { Hono, type Context } from 'hono';
import { parseChangeList } from '@zesty-crow/core/changes';
import { parseParcelList } from '@zesty-crow/core/parcels';
import { parsePlan } from '@zesty-crow/core/plan';
import { notFound, ProblemError } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { bodyOf, idParam, MOST_INTEGER, parsed, readBody, wholeQuery } from '../http/validate.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { changeHistory, parcelHistory, planHistory } from './documents.ts';
import type { HistoryState } from '../contract.ts';
import { ConflictError, type History } from './history.ts';
import { findShot } from '../shots/shots.ts';
import { NamedStates } from './states.ts';

const revision = { type: 'integer', minimum: 0, maximum: MOST_INTEGER } as const;
const move = bodyOf<{ revision: number }>({
  type: 'object',
  additionalProperties: false,
  required: ['revision'],
  properties: { revision },
});

const go = bodyOf<{ revision: number; step: number }>({
  type: 'object',
  additionalProperties: false,
  required: ['revision', 'step'],
  properties: { revision, step: { type: 'integer', minimum: 0, maximum: MOST_INTEGER } },
});
const state = bodyOf<{ name: string; body: unknown }>({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'body'],
  properties: { name: { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S' }, body: {} },
});
/** So many steps of a history are told at once. */
const PAGE = 200;

/**
 * Reads, saves, undoes and redoes one kind of document, goes to any of its steps, and keeps states under names; what
 * edits is guarded by the revision that the caller saw.
 */
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
  /** The shot of a path, which must be there. */
  const shotOf = (c: Context) => findShot(pool, idParam(c, 'shot'));
  const states = new NamedStates(pool, history.kind, parse);
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
  app.post(`/:id/${path}/go`, async (c) => {
    const id = idParam(c, 'shot');
    const read = await readBody(c, go);
    return c.json(await answer(id, history.go(pool, id, read.revision, read.step)));
  });
  app.get(`/:id/${path}/steps`, async (c) => {
    const before = wholeQuery(c, 'before');
    return c.json(await history.steps(pool, await shotOf(c), PAGE, before));
  });

  app.get(`/:id/${path}/states`, async (c) => c.json(await states.list(await shotOf(c))));
  app.post(`/:id/${path}/states`, async (c) => {
    const id = idParam(c, 'shot');
    const read = await readBody(c, state);
    const made = await states.add(id, read.name.trim(), parsed(name, parse, read.body));
    if (!made) throw notFound('shot');
    await announce(pool, SHOT_CHANNEL, id);
    return c.json(made, 201);
  });
  app.get(`/:id/${path}/states/:state`, async (c) => {
    const body = await states.body(await shotOf(c), idParam(c, 'state', 'state'));
    if (body === undefined) throw notFound('state');
    return c.json(body);
  });
  app.delete(`/:id/${path}/states/:state`, async (c) => {
    const id = await shotOf(c);
    if (!(await states.remove(id, idParam(c, 'state', 'state')))) throw notFound('state');
    await announce(pool, SHOT_CHANNEL, id);
    return c.body(null, 204);
  });
  return app;
}

/** The documents of a shot: its change list and its ID plan. */
export function historyRoutes(services: Services): Hono {
  const app = new Hono();
  app.route('/', routesOf(services, 'changes', 'change list', changeHistory, parseChangeList));
  app.route('/', routesOf(services, 'plan', 'plan', planHistory, parsePlan));
  app.route('/', routesOf(services, 'parcels', 'list of parcels', parcelHistory, parseParcelList));
  return app;
}
