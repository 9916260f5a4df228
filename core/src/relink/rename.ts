import type { ChangeList, Masked } from '../changes/change.ts';

/** A member that is called otherwise now, in one layer and in those that show the same things. */
export interface Renaming {
  layer: string;
  from: string;
  to: string;
}

/** The list with picks that name the members as they are called now; rules stay as they are. */
export function renamed(list: ChangeList, renamings: readonly Renaming[]): ChangeList {
  const inMask = <T extends Masked>(owner: T): T => {
    if (!owner.who.some((p) => !p.rule && renamings.some((r) => r.layer === p.layer && r.from === p.member)))
      return owner;
    return {
      ...owner,
      who: owner.who.map((p) => {
        const found = p.rule ? undefined : renamings.find((r) => r.layer === p.layer && r.from === p.member);
        return found ? { ...p, member: found.to } : p;
      }),
    };
  };
  return { ...list, headings: list.headings.map(inMask), changes: list.changes.map(inMask) };
}
