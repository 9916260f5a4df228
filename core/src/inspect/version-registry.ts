import type { Finding } from '../findings/finding.ts';
import { framesMissing } from './checks/frames-missing.ts';
import { idChanges, idChangesOfVersions } from './checks/id-changes.ts';
import { memberBlinks } from './checks/member-blinks.ts';
import type { InspectedVersion, VersionCheck } from './version-check.ts';

/** Every check over the frames of a version, in the order in which findings are told. */
export const VERSION_CHECKS: readonly VersionCheck[] = [
  framesMissing,
  memberBlinks,
  idChanges,
  idChangesOfVersions,
];

/** What is wrong with a version as a whole. */
export const inspectVersion = (version: InspectedVersion): Finding[] =>
  VERSION_CHECKS.flatMap((check) => check.run(version));
