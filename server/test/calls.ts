import type { Application } from '../../e2e/harness/application.ts';

// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type Json = { [key: string]: any };

/** An answer of the server, with its body if that is JSON. */
export interface Answer {
  status: number;
  type: string;
  headers: Headers;
  body: Json;
}

/** Tries until something is there; what throws is not there yet. */
export async function until<T>(look: () => Promise<T | undefined>, seconds = 120): Promise<T> {
  for (let i = 0; i < seconds * 10; i++) {
    const found = await look().catch(() => undefined);
    if (found !== undefined) return found;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('It did not happen.');
}

/** Calls of an application that is started later; refusals are answers, too. */
export function callsOf(application: () => Application) {
  /** `body`: bytes and text are sent as they are, anything else as JSON. */
  async function call(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer> {
    const raw = body instanceof Uint8Array;
    const response = await fetch(`${application().address}/api${path}`, {
      method,
      headers: { ...(body === undefined || raw ? {} : { 'content-type': 'application/json' }), ...headers },
      ...(body === undefined
        ? {}
        : {
            body: raw
              ? (body as Uint8Array<ArrayBuffer>)
              : typeof body === 'string'
                ? body
                : JSON.stringify(body),
          }),
    });
    const type = response.headers.get('content-type') ?? '';
    return {
      status: response.status,
      type,
      headers: response.headers,
      body: (type.includes('json') ? await response.json() : undefined) as Json,
    };
  }
  const jobOf = async (id: string): Promise<Json | undefined> =>
    ((await call('GET', '/jobs')).body as unknown as Json[]).find((j) => j['id'] === id);
  /** A job once it is over. */
  const ended = (id: string): Promise<Json> =>
    until(async () => {
      const job = await jobOf(id);
      return job && !['waiting', 'running'].includes(job['state'] as string) ? job : undefined;
    });
  return { call, jobOf, ended };
}
