import type { CastLayer } from '../cast/cast.ts';
import type { Change } from '../changes/change.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { resolvePicks } from '../picks/resolve.ts';

/** Picks of changes that are on and that mean nothing in this picture, each with its change. */
export const missingPicks = (
  changes: readonly Change[],
  cast: readonly CastLayer[],
): { change: Change; pick: MemberPick }[] =>
  changes.flatMap((change) =>
    change.on ? resolvePicks(change.who, cast).missing.map((pick) => ({ change, pick })) : [],
  );
