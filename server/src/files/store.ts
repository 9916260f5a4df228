import { createHash } from 'node:crypto';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';
import { ChunkRows, RowBytes } from './copy-format.ts';

export type FileRole = 'picture' | 'sidecar' | 'preview' | 'scene' | 'scene-part' | 'result';

export interface FileRow {
  id: string;
  role: FileRole;
  name: string;
  media_type: string;
  size: number;
  sha256: string;
  frame: number | null;
}

export interface NewFile {
  shotId: string;
  versionId?: string;
  jobId?: string;
  role: FileRole;
  /** Of a rendered picture. */
  frame?: number;
  name: string;
  mediaType: string;
}

/** A file that is larger than the server takes. */
export class TooLarge extends Error {
  constructor(readonly limit: number) {
    super(`The file is larger than ${Math.round(limit / 2 ** 20)} MB, the most that is taken here.`);
  }
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/**
 * Streams bytes into the database. Either the whole file is stored or nothing: a broken upload leaves no trace.
 */
export async function storeFile(
  pool: Pool,
  file: NewFile,
  bytes: Readable,
  limit = Infinity,
): Promise<FileRow> {
  return inTransaction(pool, (client) => storeFileIn(client, file, bytes, limit));
}

/** The same inside a transaction of the caller's. */
export async function storeFileIn(
  client: Client,
  file: NewFile,
  bytes: Readable,
  limit = Infinity,
): Promise<FileRow> {
  const { rows } = await client.query<{ id: string }>(
    `insert into file (shot_id, version_id, job_id, role, frame, name, media_type, size, sha256)
     values ($1, $2, $3, $4, $5, $6, $7, 0, '') returning id`,
    [
      file.shotId,
      file.versionId ?? null,
      file.jobId ?? null,
      file.role,
      file.frame ?? null,
      file.name,
      file.mediaType,
    ],
  );
  const id = rows[0]!.id;
  const hash = createHash('sha256');
  let size = 0;
  const measure = new Transform({
    transform(part: Buffer, _encoding, done) {
      size += part.length;
      hash.update(part);
      done(size > limit ? new TooLarge(limit) : null, part);
    },
  });
  await pipeline(
    bytes,
    measure,
    new ChunkRows(id),
    client.query(copyFrom('copy file_chunk (file_id, number, bytes) from stdin (format binary)')),
  );
  const stored = await client.query<FileRow>(
    'update file set size = $2, sha256 = $3 where id = $1 returning id, role, name, media_type, size, sha256, frame',
    [id, size, hash.digest('hex')],
  );
  return stored.rows[0]!;
}

/** Streams a file's bytes out of the database; the connection is held until the stream ends or is destroyed. */
export async function streamFile(pool: Pool, id: string): Promise<Readable> {
  if (!UUID.test(id)) throw new Error('Not a file id.');
  const client = await pool.connect();
  // COPY takes no parameters; the id was checked to be nothing but hex digits and hyphens.
  const rows = client.query(
    copyTo(
      `copy (select bytes from file_chunk where file_id = '${id}' order by number) to stdout (format binary)`,
    ),
  );
  const out = new RowBytes();
  // A reader that leaves early leaves the connection in the middle of a COPY: it cannot be used again.
  pipeline(rows, out).then(
    () => client.release(),
    (error: Error) => client.release(error),
  );
  return out;
}

/** All bytes of a file, for computation in a worker. */
export async function readFileBytes(pool: Pool, file: { id: string; size: number }): Promise<Uint8Array> {
  const bytes = new Uint8Array(file.size);
  let at = 0;
  for await (const part of await streamFile(pool, file.id)) {
    bytes.set(part as Buffer, at);
    at += (part as Buffer).length;
  }
  return bytes;
}

export async function fileById(pool: Pool, id: string): Promise<FileRow | undefined> {
  const { rows } = await pool.query<FileRow>(
    'select id, role, name, media_type, size, sha256, frame from file where id = $1',
    [id],
  );
  return rows[0];
}

/** Files of a version or, for a scene, of a shot. */
export async function filesOf(
  pool: Pool,
  owner: { versionId: string } | { shotId: string; role: FileRole },
): Promise<FileRow[]> {
  const columns = 'id, role, name, media_type, size, sha256, frame';
  const { rows } =
    'versionId' in owner
      ? await pool.query<FileRow>(
          `select ${columns} from file where version_id = $1 order by frame nulls first, created`,
          [owner.versionId],
        )
      : await pool.query<FileRow>(
          `select ${columns} from file where shot_id = $1 and role = $2 order by created desc`,
          [owner.shotId, owner.role],
        );
  return rows;
}
