import type { ChangeList, Masked } from '../changes/change.ts';
import type { Edited } from '../changes/edit/edited.ts';
import type { Follow } from '../masks/fence/follow.ts';

/** A member that is called otherwise now, in one layer and in those that show the same things. */
export interface Renaming {
  layer: string;
  from: string;
  to: string;
}

/** The list with picks that name the members as they are called now; rules stay as they are. */
export function renamed(list: ChangeList, renamings: readonly Renaming[]): ChangeList {
  const now = <T extends { layer: string; member: string }>(named: T): T => {
    const found = renamings.find((r) => r.layer === named.layer && r.from === named.member);
    return found ? { ...named, member: found.to } : named;
  };
  const following = <T extends { follow?: Follow }>(shape: T): T => {
    const follow = shape.follow && now(shape.follow);
    return follow && follow !== shape.follow ? { ...shape, follow } : shape;
  };
  const inMask = <T extends Masked>(owner: T): T => {
    const who = owner.who.map((p) => (p.rule ? p : now(p)));
    const fence = owner.fence.map(following);
    const same = who.every((p, i) => p === owner.who[i]) && fence.every((f, i) => f === owner.fence[i]);
    return same ? owner : { ...owner, who, fence };
  };
  return { ...list, headings: list.headings.map(inMask), changes: list.changes.map(inMask) };
}

/** Picks that name members as they are called in this version, as an edit of the list. */
export const findAgain = (list: ChangeList, renamings: readonly Renaming[]): Edited => ({
  list: renamed(list, renamings),
  words:
    renamings.length === 1 ? `Find “${renamings[0]!.to}” again` : `Find ${renamings.length} members again`,
});
