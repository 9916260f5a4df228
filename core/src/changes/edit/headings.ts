import { noMask, type ChangeList, type Heading } from '../change.ts';
import { gathered, withHeading } from '../rows.ts';
import { named, withChange, type Edited } from './edited.ts';

/** A new heading, opened; over a change if one is given. */
export function addHeading(list: ChangeList, id: string, over?: string): Edited {
  const heading: Heading = { ...noMask(), id, words: '', on: true };
  const more = { ...list, headings: [...list.headings, heading] };
  return {
    list: over === undefined ? more : withChange(more, over, (c) => withHeading(c, id)),
    words: 'New heading',
    open: id,
  };
}

/** The list without a heading; its changes stay, and stand under none. */
export function removeHeading(list: ChangeList, id: string, open: string | undefined): Edited | undefined {
  const gone = list.headings.find((h) => h.id === id);
  if (!gone) return undefined;
  return {
    list: {
      ...list,
      headings: list.headings.filter((h) => h !== gone),
      changes: list.changes.map((c) => (c.heading === id ? withHeading(c, undefined) : c)),
    },
    words: `Delete heading “${named(gone, 'heading')}”`,
    open: open === id ? list.changes[0]?.id : open,
  };
}

/** Puts a change under a heading, at the end of those that stand there, or out of the one that it stands under. */
export function putUnder(list: ChangeList, id: string, heading: string | undefined): Edited | undefined {
  const at = list.changes.findIndex((c) => c.id === id);
  const change = list.changes[at];
  if (!change) return undefined;
  const rest = list.changes.toSpliced(at, 1);
  const block = heading ?? change.heading;
  const last = rest.findLastIndex((c) => c.heading === block);
  const place = last < 0 ? at : last + 1;
  return {
    list: { ...list, changes: gathered(rest.toSpliced(place, 0, withHeading(change, heading))) },
    words: heading === undefined ? 'Take out of the heading' : 'Put under a heading',
  };
}
