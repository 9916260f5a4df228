import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import type { Context } from 'hono';
import type { FileRole } from '../contract.ts';
import { ProblemError } from '../http/problem.ts';
import { wordFault } from '../http/words.ts';
import type { Services } from '../services.ts';
import { freeBytes } from './disk.ts';
import { failWhenStalled, StalledError } from './stalled.ts';
import { EmptyFileError, storeFile, TooLargeError, type FileRow } from './store.ts';

/** What a file of some ending is. */
export interface FileKind {
  role: FileRole;
  mediaType: string;
}

const LONGEST_NAME = 255;
/** The database needs some room of its own beside a file. */
const RESERVE = 64 * 2 ** 20;

/**
 * Receives the body of an upload as a file whose kind its ending tells. Throws a {@link ProblemError} for an ending that is
 * not among `kinds`, an empty body, one over the limit, one that stalls, or one that the disk has no room for; nothing
 * is stored then.
 */
export async function receiveFile(
  c: Context,
  { pool, transfers, settings }: Services,
  owner: { shotId: string; versionId?: string; frame?: number; replaces?: boolean },
  kinds: ReadonlyMap<string, FileKind>,
  refusal: { title: string; detail: string },
): Promise<FileRow> {
  const name = c.req.param('name') ?? '';
  const fault = name.length > LONGEST_NAME ? 'is too long' : wordFault(name);
  if (fault)
    throw new ProblemError(400, `The name of the file ${fault}.`, 'Rename the file and drop it again.');
  const kind = kinds.get(name.slice(name.lastIndexOf('.') + 1).toLowerCase());
  if (!kind) throw new ProblemError(415, `${name} ${refusal.title}`, refusal.detail);
  const empty = new ProblemError(400, `${name} is empty.`, 'It holds no bytes. Choose the file again.');
  const body = c.req.raw.body as ReadableStream | null;
  if (!body) throw empty;
  const claimed = Number(c.req.header('content-length') ?? 0);
  if (claimed > settings.uploadLimit)
    throw new ProblemError(413, `${name} is too large.`, new TooLargeError(settings.uploadLimit).message);
  if (claimed + RESERVE > (await freeBytes(settings.dataFolder)))
    throw new ProblemError(
      507,
      'The disk is full.',
      `There is no room for ${name}. Make room and try again. Nothing that was saved before is lost.`,
    );
  const { versionId } = owner;
  const heard = () =>
    pool
      .query('update version set heard = clock_timestamp() where id = $1', [versionId])
      .catch(() => undefined);
  const bytes = Readable.fromWeb(body);
  const watched = bytes.compose(failWhenStalled(settings.transferIdle)) as Readable;
  try {
    return await storeFile(transfers, { ...owner, name, ...kind }, watched, settings.uploadLimit);
  } catch (error) {
    if (error instanceof TooLargeError) throw new ProblemError(413, `${name} is too large.`, error.message);
    if (error instanceof EmptyFileError) throw empty;
    if (error instanceof StalledError)
      throw new ProblemError(408, `${name} did not arrive.`, `${error.message} Drop the file again.`);
    throw error;
  } finally {
    if (versionId) await heard();
  }
}
