import type { Context } from 'hono';
import type { ContentfulStatusCode } from 'hono/utils/http-status';

/** An error that a person is meant to read (RFC 9457). `detail` says what is wrong and what to do. */
export class ProblemError extends Error {
  override name = 'ProblemError';
  constructor(
    readonly status: ContentfulStatusCode,
    readonly title: string,
    readonly detail: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(`${title} ${detail}`);
  }
}

export const notFound = (what: string) =>
  new ProblemError(
    404,
    `There is no such ${what}.`,
    'It may have been deleted in another window. Go back to the shots and look again.',
  );

/** Writes a problem as `application/problem+json`. */
export function problemResponse(c: Context, problem: ProblemError): Response {
  const { status, title, detail, extra } = problem;
  return c.body(JSON.stringify({ type: 'about:blank', title, status, detail, ...extra }), status, {
    'content-type': 'application/problem+json',
    // The rest of a refused upload is never read, so this connection is of no further use.
    ...([408, 413, 415, 507].includes(status) ? { connection: 'close' } : {}),
  });
}
