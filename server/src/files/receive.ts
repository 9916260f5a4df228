import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import type { Context } from 'hono';
import { Problem } from '../http/problem.ts';
import type { Services } from '../services.ts';
import { storeFile, TooLarge, type FileRole, type FileRow } from './store.ts';

/** What a file of some ending is. */
export interface FileKind {
  role: FileRole;
  mediaType: string;
}

/**
 * Receives the body of an upload as a file whose kind its ending tells. Throws a {@link Problem} for an ending that is
 * not among `kinds`, an empty body, or one over the limit; nothing is stored then.
 */
export async function receiveFile(
  c: Context,
  { pool, settings }: Services,
  owner: { shotId: string; versionId?: string },
  kinds: Readonly<Record<string, FileKind>>,
  refusal: { title: string; detail: string },
): Promise<FileRow> {
  const name = c.req.param('name')!;
  const kind = kinds[name.slice(name.lastIndexOf('.') + 1).toLowerCase()];
  if (!kind) throw new Problem(415, `${name} ${refusal.title}`, refusal.detail);
  const body = c.req.raw.body as ReadableStream | null;
  if (!body) throw new Problem(400, `${name} is empty.`, 'Choose the file again.');
  try {
    return await storeFile(pool, { ...owner, name, ...kind }, Readable.fromWeb(body), settings.uploadLimit);
  } catch (error) {
    if (error instanceof TooLarge) throw new Problem(413, `${name} is too large.`, error.message);
    throw error;
  }
}
