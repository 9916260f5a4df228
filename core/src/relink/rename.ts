import type { ChangeList, Masked } from '../changes/change.ts';

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
  const inMask = <T extends Masked>(owner: T): T => ({
    ...owner,
    who: owner.who.map((p) => (p.rule ? p : now(p))),
    fence: owner.fence.map((f) => (f.follow ? { ...f, follow: now(f.follow) } : f)),
  });
  return { ...list, headings: list.headings.map(inMask), changes: list.changes.map(inMask) };
}
