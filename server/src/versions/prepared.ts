import { createHash } from 'node:crypto';
import { filesOfFrame } from '@zesty-crow/core/version';
import type { Pool } from '../database/pool.ts';
import { openable } from './versions.ts';

/** What is kept of an ID layer of a frame: its index, or the areas of its members. */
export type Prepared = 'index' | 'areas';

/** A frame's layer, by the sums of the files that make it: other files are another frame. */
export interface PreparedKey {
  versionId: string;
  sums: string;
  layer: string;
  what: Prepared;
  format: number;
}

/** What a version is opened from. */
type Openable = Awaited<ReturnType<typeof openable>>;

/**
 * One sum for the picture files of a frame, and for what decides which pixels have which IDs. Manifests give names only
 * and do not count.
 */
export function sumsOf({ files, interpretation }: Openable, frame: number | undefined): string {
  const sums = filesOfFrame(files, frame).pictures.map((f) => f.sha256);
  const { places, masks, encodings, roles, picture } = interpretation;
  if (places || masks) sums.push(JSON.stringify([places, masks, encodings]));
  // Edges of numbers are rebuilt from the picture.
  if (roles) sums.push(JSON.stringify([roles, picture]));
  return createHash('sha256').update(sums.join(' ')).digest('hex');
}

export const sumsOfFrame = async (pool: Pool, versionId: string, frame: number | undefined) =>
  sumsOf(await openable(pool, versionId), frame);

const VALUES = (k: PreparedKey) => [k.versionId, k.sums, k.layer, k.what, k.format];

/** The bytes that were kept, and that somebody asked for them. */
export async function takePrepared(pool: Pool, key: PreparedKey): Promise<Buffer | undefined> {
  const { rows } = await pool.query<{ bytes: Buffer }>(
    `update prepared set used = now()
     where version_id = $1 and sums = $2 and layer = $3 and what = $4 and format = $5 returning bytes`,
    VALUES(key),
  );
  return rows[0]?.bytes;
}

export async function isPrepared(pool: Pool, key: PreparedKey): Promise<boolean> {
  const { rowCount } = await pool.query(
    `select 1 from prepared where version_id = $1 and sums = $2 and layer = $3 and what = $4 and format = $5`,
    VALUES(key),
  );
  return rowCount === 1;
}

/** Keeps bytes, and lets go of the oldest beyond `limit` bytes in all. A version that is gone keeps nothing. */
export async function keepPrepared(
  pool: Pool,
  key: PreparedKey,
  bytes: Uint8Array,
  limit: number,
): Promise<void> {
  await pool.query(
    `insert into prepared (version_id, sums, layer, what, format, bytes, size)
     select $1, $2, $3, $4, $5, $6, $7 where exists (select 1 from version where id = $1)
     on conflict (version_id, sums, layer, what, format) do update set bytes = $6, size = $7, used = now()`,
    [...VALUES(key), Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), bytes.length],
  );
  await pool.query(
    `delete from prepared p using (
       select version_id, sums, layer, what, format, sum(size) over (order by used desc, sums, layer) as total
       from prepared) t
     where t.total > $1 and (p.version_id, p.sums, p.layer, p.what, p.format)
       = (t.version_id, t.sums, t.layer, t.what, t.format)`,
    [limit],
  );
}
