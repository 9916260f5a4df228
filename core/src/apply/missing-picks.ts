import type { CastLayer } from '../cast/cast.ts';
import type { ListedChange } from '../changes/listed.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { resolvePicks } from '../picks/resolve.ts';

/** Picks of a change, and of the heading over it, that mean nothing in this picture. */
export const missingOf = ({ who, over }: ListedChange, cast: readonly CastLayer[]): MemberPick[] =>
  resolvePicks([...who, ...(over?.who ?? [])], cast).missing;

/** Those of all changes that are on, each with its change. */
export const missingPicks = (
  changes: readonly ListedChange[],
  cast: readonly CastLayer[],
): { change: ListedChange; pick: MemberPick }[] =>
  changes.flatMap((change) => (change.on ? missingOf(change, cast).map((pick) => ({ change, pick })) : []));
