import { exportJob } from './exports/export-job.ts';
import type { LaneName } from './queue/lanes.ts';
import type { JobKind } from './queue/kind.ts';
import { placeJob } from './parcels/folder-job.ts';
import { parcelJob } from './parcels/parcel-job.ts';
import { probeJob } from './renders/probe-job.ts';
import { renderJob } from './renders/render-job.ts';
import { readSceneJob } from './scenes/read-scene-job.ts';
import { checkJob } from './versions/check-job.ts';
import { mendJob } from './versions/mend-job.ts';
import { prepareJob } from './versions/prepare-job.ts';
import { readVersionJob } from './versions/read-version-job.ts';

/** Every kind of job there is. */
export const JOB_KINDS: readonly JobKind[] = [
  readVersionJob,
  readSceneJob,
  renderJob,
  probeJob,
  exportJob,
  parcelJob,
  placeJob,
  prepareJob,
  mendJob,
  checkJob,
];

export const jobKind = (kind: string): JobKind | undefined => JOB_KINDS.find((k) => k.kind === kind);

/** The lane that does jobs of a kind. */
export function laneOf(kind: string): LaneName {
  const known = jobKind(kind);
  if (!known) throw new Error(`There is no job of the kind "${kind}".`);
  return known.lane;
}
