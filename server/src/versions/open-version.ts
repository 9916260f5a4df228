import type { VersionSummary } from '../contract.ts';
import { inspectOpen, openFrame, type OpenPicture } from '@zesty-crow/core';
import type { Pool } from '../database/pool.ts';
import { filesOf, readFileBytes } from '../files/store.ts';

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
    (file) => readFileBytes(pool, file),
    { maxMemory },
  );
  return opened.all();
}

export function summarise(open: OpenPicture): VersionSummary {
  const inspection = inspectOpen(open);
  return {
    layers: inspection.idLayers.map(({ members, ...l }) => ({ ...l, members: members.length })),
    findings: inspection.findings,
    channels: inspection.channels.length,
    compression: inspection.compression,
    hasPicture: open.beauty !== undefined,
  };
}
