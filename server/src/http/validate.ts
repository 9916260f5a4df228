import Ajv, { type ValidateFunction } from 'ajv';
import type { Context } from 'hono';
import { Problem } from './problem.ts';

const ajv = new Ajv({ allErrors: false, strict: false });

/** Compiles the schema of a request body. */
export const bodyOf = <T>(schema: object): ValidateFunction<T> => ajv.compile<T>(schema);

/** Reads a JSON body and checks it; throws a {@link Problem} that names the place of the first fault. */
export async function readBody<T>(c: Context, validate: ValidateFunction<T>): Promise<T> {
  let value: unknown;
  try {
    value = await c.req.json();
  } catch {
    throw new Problem(400, 'The request is not valid JSON.', 'Send a JSON document.');
  }
  if (validate(value)) return value;
  const e = validate.errors![0]!;
  throw new Problem(400, 'The request cannot be used.', `${e.instancePath || 'The document'} ${e.message}.`);
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** An id in the path, by default the one called `id`, checked, so that a mistyped address is a 404 and not a database error. */
export function idParam(c: Context, what: string, name = 'id'): string {
  const id = c.req.param(name) ?? '';
  if (!UUID.test(id))
    throw new Problem(
      404,
      `There is no such ${what}.`,
      'The address is not complete. Go back to the shots and look again.',
    );
  return id;
}
