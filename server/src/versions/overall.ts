import { INDEX_FORMAT } from '@zesty-crow/core/idindex';
import { inspectVersion, type SeenFrame, type SeenMember } from '@zesty-crow/core/inspect';
import { frameNumbers } from '@zesty-crow/core/version';
import type { Pool } from '../database/pool.ts';
import type { Area } from './prepare-frame.ts';
import { sumsOf } from './prepared.ts';
import { openable } from './versions.ts';

/** Members of all frames of a version that were read beforehand, by layer. */
async function seenFrames(pool: Pool, versionId: string): Promise<{ frames: number[]; seen: SeenFrame[] }> {
  const version = await openable(pool, versionId);
  const frames = frameNumbers(version.files);
  const seen: SeenFrame[] = [];
  for (const frame of frames.length ? frames : [undefined]) {
    const { rows } = await pool.query<{ layer: string; bytes: Buffer }>(
      `select layer, bytes from prepared where version_id = $1 and sums = $2 and what = 'areas' and format = $3`,
      [versionId, sumsOf(version, frame), INDEX_FORMAT],
    );
    if (rows.length === 0) continue;
    const layers = rows.map(({ layer, bytes }): [string, SeenMember[]] => [
      layer,
      (JSON.parse(bytes.toString()) as Area[]).flatMap(([id, coverage, pixels, name]) =>
        id === 0 ? [] : [{ id, coverage, pixels, name }],
      ),
    ]);
    seen.push({ frame: frame ?? 0, layers: new Map(layers) });
  }
  return { frames, seen };
}

/** Looks at a version over its frames, and against the one before, and keeps what is found with it. */
export async function keepOverall(pool: Pool, versionId: string): Promise<void> {
  const { frames, seen } = await seenFrames(pool, versionId);
  const { rows } = await pool.query<{ id: string; number: number }>(
    `select b.id, b.number from version b join version v on v.shot_id = b.shot_id
     where v.id = $1 and b.number < v.number and b.state = 'ready' order by b.number desc limit 1`,
    [versionId],
  );
  const [earlier] = rows;
  const [frame] = earlier ? (await seenFrames(pool, earlier.id)).seen : [];
  const findings = inspectVersion({
    frames,
    seen,
    ...(earlier && frame ? { before: { number: earlier.number, frame } } : {}),
  });
  await pool.query(
    `update version set summary = jsonb_set(summary, '{overall}', $2::jsonb) where id = $1 and summary is not null`,
    [versionId, JSON.stringify(findings)],
  );
}
