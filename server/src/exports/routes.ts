import { Hono } from 'hono';
import { parseChangeList } from '@zesty-crow/core/changes';
import { exportKind, EXPORTS } from '@zesty-crow/core/exports';
import { ProblemError } from '../http/problem.ts';
import { bodyOf, idParam, parsed, readBody } from '../http/validate.ts';
import type { Services } from '../services.ts';
import { findVersion, refuseUnfinished } from '../versions/versions.ts';
import type { ExportInput } from '../contract.ts';

const exportInput = bodyOf<Omit<ExportInput, 'list'> & { list: unknown }>({
  type: 'object',
  additionalProperties: false,
  required: ['kind', 'name', 'list'],
  properties: {
    kind: { enum: EXPORTS.map((e) => e.kind) },
    changeId: { type: 'string', maxLength: 64 },
    frame: { type: 'integer', minimum: 0, maximum: 1e6 },
    variant: { type: 'string', maxLength: 64 },
    name: { type: 'string', minLength: 1, maxLength: 120, pattern: '^[^/\\\\:\\u0000-\\u001f]+$' },
    list: {},
  },
});

/** Exports from a version. */
export function exportRoutes({ pool, queue }: Services): Hono {
  const app = new Hono();
  app.post('/:id/export', async (c) => {
    const version = await findVersion(pool, idParam(c, 'version'));
    const read = await readBody(c, exportInput);
    if (version.state !== 'ready')
      throw new ProblemError(409, 'This version is not ready.', 'Wait until it has been read.');
    refuseUnfinished(version);
    const input: ExportInput = { ...read, list: parsed('change list', parseChangeList, read.list) };
    if (exportKind(input.kind)?.of === 'change' && !input.list.changes.some((x) => x.id === input.changeId))
      throw new ProblemError(400, 'It is not said whose mask is meant.', 'Choose a change.');
    if (input.variant !== undefined && !input.list.variants.some((v) => v.id === input.variant))
      throw new ProblemError(400, 'This variant is not in the list.', 'Choose another one.');
    return c.json(
      await queue.enqueue(pool, { kind: 'export', shotId: version.shot_id, versionId: version.id, input }),
      202,
    );
  });
  return app;
}
