import type { Change, ChangeList, Heading, Masked, StepUse } from '../change.ts';
import type { StepKey } from '../step-settings.ts';

/** What has a mask and is worked on: a change, or the heading over some. */
export type Owner = Change | Heading;

/** What an edit makes of a list. The list that was edited stays as it is. */
export interface Edited {
  list: ChangeList;
  /** What the history says of it. */
  words: string;
  /** Id of the change or heading that is worked on from here on, where that is another one. */
  open?: string | undefined;
  /** Name of the variant that it was put into. */
  inVariant?: string | undefined;
}

/** What has no words yet, in the words of the history. */
export const named = ({ words }: { words: string }, otherwise = 'change'): string => words || otherwise;

/** The change or heading with an id. */
export const ownerIn = (list: ChangeList, id: string): Owner | undefined =>
  list.changes.find((c) => c.id === id) ?? list.headings.find((h) => h.id === id);

/** A list of steps of it; a heading has no corrections. */
export const stepsIn = (owner: Owner, key: StepKey): readonly StepUse[] =>
  key === 'corrections' ? ('corrections' in owner ? owner.corrections : []) : owner[key];

/** The list with something else in the place of one change; the same list where that is the same or not there. */
export function withChange(list: ChangeList, id: string, edit: (change: Change) => Change): ChangeList {
  const at = list.changes.findIndex((c) => c.id === id);
  const before = list.changes[at];
  const now = before && edit(before);
  if (!now || now === before) return list;
  return { ...list, changes: list.changes.with(at, now) };
}

/** The same for a change or a heading, by what both have. */
export function withOwner(
  list: ChangeList,
  id: string,
  edit: (owner: Owner) => Partial<Masked & Pick<Heading, 'words' | 'on'>>,
): ChangeList {
  if (list.changes.some((c) => c.id === id)) return withChange(list, id, (c) => ({ ...c, ...edit(c) }));
  const at = list.headings.findIndex((h) => h.id === id);
  const heading = list.headings[at];
  return heading ? { ...list, headings: list.headings.with(at, { ...heading, ...edit(heading) }) } : list;
}

/** The list with other steps in one of the lists of a change or heading. */
export const withSteps = (
  list: ChangeList,
  id: string,
  key: StepKey,
  edit: (steps: readonly StepUse[]) => readonly StepUse[],
): ChangeList =>
  withOwner(list, id, (owner) =>
    key === 'corrections' && !('corrections' in owner) ? {} : { [key]: edit(stepsIn(owner, key)) },
  );

/** The list with something else in the place of one step. */
export const withStep = (
  list: ChangeList,
  id: string,
  key: StepKey,
  step: string,
  edit: (use: StepUse) => StepUse,
): ChangeList => withSteps(list, id, key, (steps) => steps.map((s) => (s.id === step ? edit(s) : s)));

/** A step of the list itself, whatever a variant says of it. */
export const stepIn = (list: ChangeList, id: string, key: StepKey, step: string): StepUse | undefined => {
  const owner = ownerIn(list, id);
  return owner && stepsIn(owner, key).find((s) => s.id === step);
};
