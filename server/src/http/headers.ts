import type { MiddlewareHandler } from 'hono';
import { ProblemError } from './problem.ts';
import { HEADERS } from './security-headers.ts';

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** Puts the headers on every answer, refusals included. */
export const sendHeaders: MiddlewareHandler = async (c, next) => {
  for (const [name, value] of Object.entries(HEADERS)) c.header(name, value);
  await next();
  for (const [name, value] of Object.entries(HEADERS)) if (!c.res.headers.has(name)) c.header(name, value);
};

/**
 * The server has no accounts: only pages that it served itself may talk to it, whatever name they were reached by. A
 * link from elsewhere may open a page, and that is all.
 */
export const refuseOtherSites: MiddlewareHandler = async (c, next) => {
  const origin = c.req.header('origin');
  const host = c.req.header('host') ?? '';
  const site = c.req.header('sec-fetch-site') ?? 'none';
  const foreign = site === 'cross-site' || site === 'same-site';
  const opens =
    c.req.method === 'GET' &&
    c.req.header('sec-fetch-mode') === 'navigate' &&
    c.req.header('sec-fetch-dest') === 'document' &&
    !c.req.path.startsWith('/api/');
  if (!LOCAL.test(host) || (origin !== undefined && origin !== `http://${host}`) || (foreign && !opens))
    throw new ProblemError(
      403,
      'This address is not allowed.',
      'Open Zesty Crow by the address that it printed at its start.',
    );
  await next();
};
