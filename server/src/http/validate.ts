import Ajv, { type ValidateFunction } from 'ajv';
import type { Context } from 'hono';
import { ProblemError } from './problem.ts';
import { findWordFault } from './words.ts';

const ajv = new Ajv({ allErrors: false, strict: false });
/** Bytes of the largest JSON body that is read. */
const LARGEST_BODY = 32 * 2 ** 20;

/** Compiles the schema of a request body. */
export const bodyOf = <T>(schema: object): ValidateFunction<T> => ajv.compile<T>(schema);

/**
 * Reads the text of a body without ever holding more than the limit. What is a little over it is still received, and
 * dropped: who is cut off while sending never reads the answer.
 */
async function readText(c: Context): Promise<string> {
  const tooLarge = new ProblemError(
    413,
    'The request is too large.',
    `A document may have up to ${LARGEST_BODY / 2 ** 20} MB. Send less at once.`,
  );
  if (Number(c.req.header('content-length') ?? 0) > 4 * LARGEST_BODY) throw tooLarge;
  const body = c.req.raw.body;
  if (!body) return '';
  const decoder = new TextDecoder();
  let [text, bytes] = ['', 0];
  for await (const part of body as unknown as AsyncIterable<Uint8Array>) {
    bytes += part.length;
    if (bytes > 4 * LARGEST_BODY) throw tooLarge;
    text = bytes > LARGEST_BODY ? '' : text + decoder.decode(part, { stream: true });
  }
  if (bytes > LARGEST_BODY) throw tooLarge;
  return text + decoder.decode();
}

/** Reads a JSON body and checks it; throws a {@link ProblemError} that names the place of the first fault. */
export async function readBody<T>(c: Context, validate: ValidateFunction<T>): Promise<T> {
  const text = await readText(c);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new ProblemError(400, 'The request is not valid JSON.', 'Send a JSON document.');
  }
  const word = findWordFault(value);
  if (word)
    throw new ProblemError(
      400,
      'The request holds a text that cannot be stored.',
      `${word.place} ${word.fault}. Type it again without that character.`,
    );
  if (validate(value)) return value;
  const e = validate.errors![0]!;
  throw new ProblemError(
    400,
    'The request cannot be used.',
    `${e.instancePath || 'The document'} ${e.message}.`,
  );
}

/**
 * Reads a document inside a body by its own reader, which upgrades one of an earlier version: a window that was opened
 * before an update may still send one. Throws a {@link ProblemError} with what the reader says.
 */
export function parsed<T>(name: string, parse: (value: unknown) => T, value: unknown): T {
  try {
    return parse(value);
  } catch (error) {
    throw new ProblemError(400, `The ${name} cannot be used.`, `${(error as Error).message}.`);
  }
}

/** Ids, as JSON schemas ask for them. */
export const ID_PATTERN = '^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$';
const UUID = new RegExp(ID_PATTERN);
/** The largest whole number that the database keeps as one. */
export const MOST_INTEGER = 2 ** 31 - 1;

/** An id that may be asked of the database; anything else is a 404, not a database error. */
export function checkedId(id: string, what: string): string {
  if (!UUID.test(id))
    throw new ProblemError(
      404,
      `There is no such ${what}.`,
      'The address is not complete. Go back to the shots and look again.',
    );
  return id;
}

/** An id in the path, by default the one called `id`, checked. */
export const idParam = (c: Context, what: string, name = 'id'): string =>
  checkedId(c.req.param(name) ?? '', what);

/**
 * A whole number from 0 on in the query; undefined if it is not given. Throws a {@link ProblemError} for anything else.
 */
export function wholeQuery(c: Context, name: string): number | undefined {
  const text = c.req.query(name);
  if (text === undefined) return undefined;
  const value = /^\d{1,10}$/.test(text) ? Number(text) : NaN;
  if (!(value <= MOST_INTEGER))
    throw new ProblemError(
      400,
      'The request cannot be used.',
      `${name} is a whole number from 0 to ${MOST_INTEGER}; this is none.`,
    );
  return value;
}
