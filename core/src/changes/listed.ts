import type { Change, ChangeList, Heading } from './change.ts';

/** A change with the heading that it stands under. */
export interface ListedChange extends Change {
  over?: Heading;
}

/** The changes of a list as they are applied: under a heading that is off, all are off. */
export const listedChanges = ({
  changes,
  headings,
}: Pick<ChangeList, 'changes' | 'headings'>): ListedChange[] =>
  changes.map((change): ListedChange => {
    const over = headings.find((h) => h.id === change.heading);
    return over ? { ...change, on: change.on && over.on, over } : change;
  });
