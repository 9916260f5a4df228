import type { VersionSummary } from '../contract.ts';
import { inspectOpen, openFrame, things, type Crew, type OpenPicture } from '@zesty-crow/core';
import { nodeCrew } from '@zesty-crow/core/node';
import type { Pool } from '../database/pool.ts';
import { filesOf, readFileBytes } from '../files/store.ts';

let crew: Crew | undefined;
/** The threads of this process; they are made when there is something to do, and end with it. */
export const ownCrew = (): Crew => (crew ??= nodeCrew().crew);

/**
 * Loads and decodes a frame of a version, the first one by default. Throws VersionError for files that cannot be used,
 * also for those that need more memory than `maxMemory` bytes.
 */
export async function openVersion(
  pool: Pool,
  versionId: string,
  maxMemory: number,
  frame?: number,
): Promise<OpenPicture> {
  const opened = await openFrame(
    await filesOf(pool, { versionId }),
    frame,
    (file) => readFileBytes(pool, file, (bytes) => ownCrew().allocate(bytes)),
    { maxMemory, crew: ownCrew() },
  );
  return opened.all();
}

export function summarise(open: OpenPicture): VersionSummary {
  const inspection = inspectOpen(open);
  return {
    layers: inspection.idLayers.map(({ members, ...l }) => ({
      ...l,
      members: things(members).length,
    })),
    findings: inspection.findings,
    channels: inspection.channels.length,
    compression: inspection.compression,
    hasPicture: open.beauty !== undefined,
  };
}
