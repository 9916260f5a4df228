import type { VersionSummary } from '../contract.ts';
import {
  inspectFrame,
  openFrame,
  things,
  type CastLayer,
  type ChannelStats,
  type Crew,
  type Frame,
} from '@zesty-crow/core';
import { nodeCrew } from '@zesty-crow/core/node';
import type { Pool } from '../database/pool.ts';
import { readFileBytes } from '../files/store.ts';

import { openable } from './versions.ts';

let crew: Crew | undefined;
/** The threads of this process; they are made when there is something to do, and end with it. */
export const ownCrew = (): Crew => (crew ??= nodeCrew().crew);

/**
 * Opens a frame of a version, the first one by default; its pixels are read when they are asked for. Rejects with
 * VersionError for files that cannot be used, also for those that need more memory than `maxMemory` bytes.
 */
export async function openVersion(
  pool: Pool,
  versionId: string,
  maxMemory: number,
  frame?: number,
): Promise<Frame> {
  const { files, interpretation } = await openable(pool, versionId);
  return openFrame(files, frame, (file) => readFileBytes(pool, file, (bytes) => ownCrew().allocate(bytes)), {
    maxMemory,
    crew: ownCrew(),
    interpretation,
  });
}

/** What is told of a version: its first frame with its members. */
export async function summarise(
  frame: Frame,
  cast: CastLayer[],
  stats: ReadonlyMap<string, ChannelStats>,
  signal: AbortSignal,
): Promise<VersionSummary> {
  const inspection = await inspectFrame(frame, cast, stats, signal);
  return {
    layers: inspection.idLayers.map(({ members, ...l }) => ({
      ...l,
      members: things(members).length,
    })),
    findings: inspection.findings,
    channels: inspection.channels.length,
    compression: inspection.compression,
    hasPicture: frame.beauty !== undefined,
  };
}
