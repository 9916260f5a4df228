import type { FileRole, KnownFile, StoredFile } from '../contract.ts';
import { createHash } from 'node:crypto';
import { Readable, Transform } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';
import type { PictureValue } from '@zesty-crow/core/fields';
import { JobError } from '../queue/kind.ts';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';
import { CHUNK, ChunkRows, RowBytes } from './copy-format.ts';

/** A file as it is stored. */
export interface FileRow extends StoredFile {
  media_type: string;
  sha256: string;
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
  /** Takes the place of the file that has its name and frame in the version. */
  replaces?: boolean;
  /** Out of sight until the job that it belongs to has ended well. */
  arriving?: boolean;
}

/** A file that is larger than the server takes. */
export class TooLargeError extends Error {
  override name = 'TooLargeError';
  constructor(readonly limit: number) {
    super(`The file is larger than ${Math.round(limit / 2 ** 20)} MB, the most that is taken here.`);
  }
}

/** A file without a single byte. */
export class EmptyFileError extends Error {
  override name = 'EmptyFileError';
}

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
  // Until it is whole it is out of the way of the one that it replaces, and of others of its name that arrive meanwhile.
  const { rows } = await client.query<{ id: string }>(
    `insert into file (shot_id, version_id, job_id, role, frame, name, media_type, size, sha256, arriving, retired)
     values ($1, $2, $3, $4, $5, $6, $7, 0, '', $8, case when $9 then now() end) returning id`,
    [
      file.shotId,
      file.versionId ?? null,
      file.jobId ?? null,
      file.role,
      file.frame ?? null,
      file.name,
      file.mediaType,
      file.arriving ?? false,
      file.replaces ?? false,
    ],
  );
  const id = rows[0]!.id;
  const hash = createHash('sha256');
  let size = 0;
  const measure = new Transform({
    transform(part: Buffer, _encoding, done) {
      size += part.length;
      hash.update(part);
      done(size > limit ? new TooLargeError(limit) : null, part);
    },
  });
  await pipeline(
    bytes,
    measure,
    new ChunkRows(id),
    client.query(copyFrom('copy file_chunk (file_id, number, bytes) from stdin (format binary)')),
  );
  if (size === 0) throw new EmptyFileError(`${file.name} is empty.`);
  if (file.replaces) {
    // One after the other: who comes later sees what the one before has stored.
    await client.query(`select pg_advisory_xact_lock(hashtextextended($1 || '/' || $2, $3))`, [
      file.versionId,
      file.name,
      file.frame ?? -1,
    ]);
    await client.query(
      `update file set retired = now() where version_id = $1 and name = $2 and role = $3
         and frame is not distinct from $4 and retired is null`,
      [file.versionId, file.name, file.role, file.frame ?? null],
    );
  }
  const stored = await client.query<FileRow>(
    'update file set size = $2, sha256 = $3, created = clock_timestamp(), retired = null where id = $1 returning id, role, name, media_type, size, sha256, frame',
    [id, size, hash.digest('hex')],
  );
  return stored.rows[0]!;
}

/** Chunks that are fetched at a time. */
const BATCH = 8;

/** Some chunks of a file by COPY, which sends bytes as they are; as query results they would come as text. */
async function readChunks(pool: Pool, id: string, from: number, to: number): Promise<Buffer> {
  const client = await pool.connect();
  // COPY takes no parameters; ids come from the database, which has nothing but hex digits and hyphens in them.
  const rows = client.query(
    copyTo(
      `copy (select bytes from file_chunk where file_id = '${id}' and number >= ${from} and number < ${to}
         order by number) to stdout (format binary)`,
    ),
  );
  try {
    const out = new RowBytes();
    const [bytes] = await Promise.all([buffer(out), pipeline(rows, out)]);
    client.release();
    return bytes;
  } catch (error) {
    // In the middle of a COPY it cannot be used again.
    client.release(error as Error);
    throw error;
  }
}

/**
 * The bytes of a file from `from` up to `to`, some chunks at a time. Between two of them no connection is held, so a
 * reader may take as long as it likes.
 */
export async function* fileBytes(
  pool: Pool,
  file: Pick<FileRow, 'id' | 'size'>,
  from = 0,
  to = file.size,
): AsyncGenerator<Buffer> {
  for (let at = from; at < to;) {
    const first = Math.floor(at / CHUNK);
    const bytes = await readChunks(pool, file.id, first, Math.min(first + BATCH, Math.ceil(to / CHUNK)));
    const part = bytes.subarray(at - first * CHUNK, to - first * CHUNK);
    if (part.length === 0) throw new Error('The file was deleted while it was read.');
    at += part.length;
    yield part;
  }
}

/** All bytes of a file, for computation in a worker. */
export async function readFileBytes(
  pool: Pool,
  file: { id: string; size: number },
  allocate: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
): Promise<Uint8Array> {
  const bytes = new Uint8Array(allocate(file.size));
  let at = 0;
  for await (const part of fileBytes(pool, file)) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

export async function fileById(pool: Pool, id: string): Promise<FileRow | undefined> {
  const { rows } = await pool.query<FileRow>(
    'select id, role, name, media_type, size, sha256, frame from file where id = $1 and not arriving',
    [id],
  );
  return rows[0];
}

/** Bytes of a picture file that changes lay into a picture. Throws a {@link JobError} for one that is gone. */
export async function fillPicture(pool: Pool, { file, name }: PictureValue): Promise<Uint8Array> {
  const row = await fileById(pool, file);
  if (row?.role !== 'fill') throw new JobError(`The picture ${name} is not there any more. Choose it again.`);
  return readFileBytes(pool, row);
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
          `select ${columns} from file where version_id = $1 and not arriving and retired is null order by frame nulls first, created`,
          [owner.versionId],
        )
      : await pool.query<FileRow>(
          `select ${columns} from file where shot_id = $1 and role = $2 and not arriving order by created desc`,
          [owner.shotId, owner.role],
        );
  return rows;
}

/**
 * Takes a file out of its version, or brings it back in place of the one that has its name and frame there now. False if
 * there is no such file, or nothing to do.
 */
export async function retireFile(
  client: Client,
  versionId: string,
  fileId: string,
  retired: boolean,
): Promise<boolean> {
  if (!retired)
    await client.query(
      `update file o set retired = now() from file f where f.id = $2 and f.version_id = $1 and o.version_id = $1
         and o.id <> f.id and o.name = f.name and o.role = f.role and o.frame is not distinct from f.frame
         and o.retired is null`,
      [versionId, fileId],
    );
  const { rowCount } = await client.query(
    `update file set retired = case when $3 then now() end
     where id = $2 and version_id = $1 and not arriving and role in ('picture', 'sidecar')
       and (retired is null) = $3`,
    [versionId, fileId, retired],
  );
  return rowCount === 1;
}

/** Where files of a size, and of a sum if it is given, are part of a version; undefined for each that is nowhere. */
export async function knownFiles(
  pool: Pool,
  files: readonly { size: number; sha256?: string }[],
): Promise<(KnownFile | undefined)[]> {
  const { rows } = await pool.query<KnownFile & { n: number }>(
    `select distinct on (t.n) t.n::int, s.id as "shotId", s.name as shot, v.number as version, f.name
     from unnest($1::bigint[], $2::text[]) with ordinality t (size, sum, n)
       join file f on f.size = t.size and (t.sum = '' or f.sha256 = t.sum)
         and f.role in ('picture', 'sidecar') and not f.arriving and f.retired is null
       join version v on v.id = f.version_id and v.state <> 'receiving'
       join shot s on s.id = v.shot_id and s.deleted is null
     order by t.n, v.created desc`,
    [files.map((f) => f.size), files.map((f) => f.sha256 ?? '')],
  );
  const found = new Map(rows.map(({ n, ...known }) => [n - 1, known]));
  return files.map((_, i) => found.get(i));
}
