import { apart, united } from '../../picks/rearrange.ts';
import { describePicks } from '../../picks/describe-picks.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import { noMask, type Change, type ChangeList } from '../change.ts';
import { movedRow } from '../rows.ts';
import { named, withChange, type Edited } from './edited.ts';

/** So many characters a change's words may have. */
const MOST_WORDS = 500;

/** A new change at the end of the list, opened. */
export function addChange(list: ChangeList, id: string, words = '', who: readonly MemberPick[] = []): Edited {
  const change: Change = {
    id,
    words,
    on: true,
    done: false,
    ...noMask(),
    who,
    plainEdges: false,
    corrections: [],
  };
  return { list: { ...list, changes: [...list.changes, change] }, words: 'New change', open: id };
}

/** The list without a change. If it was open, the one that takes its place is. */
export function removeChange(list: ChangeList, id: string, open: string | undefined): Edited | undefined {
  const at = list.changes.findIndex((c) => c.id === id);
  const gone = list.changes[at];
  if (!gone) return undefined;
  const changes = list.changes.toSpliced(at, 1);
  return {
    list: { ...list, changes },
    words: `Delete “${named(gone)}”`,
    open: open === id ? changes[Math.min(at, changes.length - 1)]?.id : open,
  };
}

/** A row of the list, a heading with its changes, at another place. */
export const moveRow = (list: ChangeList, from: number, to: number): Edited => ({
  list: { ...list, changes: movedRow(list, from, to) },
  words: 'Reorder changes',
});

/** A change once more, right after it, opened. */
export function copyChange(list: ChangeList, id: string, newId: string): Edited | undefined {
  const at = list.changes.findIndex((c) => c.id === id);
  const change = list.changes[at];
  if (!change) return undefined;
  return {
    list: { ...list, changes: list.changes.toSpliced(at + 1, 0, { ...change, id: newId }) },
    words: 'Copy change',
    open: newId,
  };
}

/** A change for each of its picks, with everything else as it is; the first of them stays the change that it was. */
export function splitChange(list: ChangeList, id: string, newId: () => string): Edited | undefined {
  const at = list.changes.findIndex((c) => c.id === id);
  const change = list.changes[at];
  const parts = change ? apart(change.who) : [];
  if (!change || parts.length === 0) return undefined;
  const made = parts.map((who, i): Change => ({
    ...change,
    id: i === 0 ? id : newId(),
    words: `${named(change, 'Change')}: ${describePicks(who.slice(0, 1))}`.slice(0, MOST_WORDS),
    who,
  }));
  return { list: { ...list, changes: list.changes.toSpliced(at, 1, ...made) }, words: 'Split change' };
}

/**
 * A change with the picks and the words of another one, which goes with whatever else it did.
 * @param open the change or heading that is open
 */
export function joinChange(
  list: ChangeList,
  id: string,
  otherId: string,
  open: string | undefined,
): Edited | undefined {
  const change = list.changes.find((c) => c.id === id);
  const other = list.changes.find((c) => c.id === otherId);
  if (!change || !other || change === other) return undefined;
  const words = [...new Set([change.words, other.words].filter(Boolean))].join('; ').slice(0, MOST_WORDS);
  const joined = withChange(list, id, (c) => ({ ...c, words, who: united(c.who, other.who) }));
  return {
    list: { ...joined, changes: joined.changes.filter((c) => c.id !== otherId) },
    words: 'Join changes',
    open: open === otherId ? id : open,
  };
}

/** Ticks a change off, or takes the tick away. */
export const setDone = (list: ChangeList, id: string, done: boolean): Edited => ({
  list: withChange(list, id, (c) => ({ ...c, done })),
  words: done ? 'Mark as done' : 'Mark as not done',
});
