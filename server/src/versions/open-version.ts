import type { VersionSummary } from '../contract.ts';
import { inspectOpen, openFrame, things, type CastLayer, type Crew, type Frame } from '@zesty-crow/core';
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

/** What is told of a version at once: its first frame with its members, without a look at its pixels. */
export async function summarise(frame: Frame, cast: CastLayer[]): Promise<VersionSummary> {
  const { width, height, beauty, layers, findings } = frame;
  const inspection = await inspectOpen({
    image: frame,
    width,
    height,
    ...(beauty ? { beauty } : {}),
    layers,
    cast,
    findings: [...findings],
  });
  return {
    layers: inspection.idLayers.map(({ members, ...l }) => ({
      ...l,
      members: things(members).length,
    })),
    findings: inspection.findings,
    channels: inspection.channels.length,
    compression: inspection.compression,
    hasPicture: frame.beauty !== undefined,
    passes: frame.passes.map((p) => p.name),
  };
}
