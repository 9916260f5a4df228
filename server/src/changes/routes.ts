import { Hono } from 'hono';
import { CHANGE_LIST_SCHEMA, parseChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { notFound, Problem } from '../http/problem.ts';
import type { Services } from '../http/services.ts';
import { bodyOf, idParam, readBody } from '../http/validate.ts';
import { announce, SHOT_CHANNEL } from '../jobs/jobs.ts';
import { changeState, Conflict, redoChanges, saveChanges, undoChanges, type ChangeState } from './history.ts';

const revision = { type: 'integer', minimum: 0 } as const;
const edit = bodyOf<{ revision: number; label: string; list: ChangeList }>({
  type: 'object',
  additionalProperties: false,
  required: ['revision', 'label', 'list'],
  properties: { revision, label: { type: 'string', minLength: 1, maxLength: 200 }, list: CHANGE_LIST_SCHEMA },
});
const move = bodyOf<{ revision: number }>({
  type: 'object',
  additionalProperties: false,
  required: ['revision'],
  properties: { revision },
});

/** The change list of a shot: read, save, undo, redo; each guarded by the revision that the caller saw. */
export function changeRoutes({ pool }: Services): Hono {
  const app = new Hono();
  const answer = async (shotId: string, work: Promise<ChangeState | undefined>): Promise<ChangeState> => {
    try {
      const state = await work;
      if (!state) throw notFound('shot');
      await announce(pool, SHOT_CHANNEL, shotId);
      return state;
    } catch (error) {
      if (!(error instanceof Conflict)) throw error;
      throw new Problem(
        409,
        'The change list was edited in another window.',
        'Nothing was overwritten. The list as it is now has been loaded; make your last edit again if it is still wanted.',
        { current: error.current },
      );
    }
  };

  app.get('/:id/changes', async (c) => {
    const state = await changeState(pool, idParam(c, 'shot'));
    if (!state) throw notFound('shot');
    return c.json(state);
  });
  app.put('/:id/changes', async (c) => {
    const id = idParam(c, 'shot');
    const body = await readBody(c, edit);
    try {
      parseChangeList(body.list);
    } catch (error) {
      throw new Problem(400, 'The change list cannot be used.', `${(error as Error).message}.`);
    }
    return c.json(await answer(id, saveChanges(pool, id, body.revision, body.label, body.list)));
  });
  app.post('/:id/changes/undo', async (c) => {
    const id = idParam(c, 'shot');
    return c.json(await answer(id, undoChanges(pool, id, (await readBody(c, move)).revision)));
  });
  app.post('/:id/changes/redo', async (c) => {
    const id = idParam(c, 'shot');
    return c.json(await answer(id, redoChanges(pool, id, (await readBody(c, move)).revision)));
  });
  return app;
}
