import type { Change, ChangeList, Heading } from './change.ts';
import { ofFrame } from './keyframes.ts';
import { ofVariant } from './variant.ts';

/** A change with the heading that it stands under. */
export interface ListedChange extends Change {
  over?: Heading;
}

/** Which state of a list is meant. */
export interface ListState {
  /** Id of a variant; otherwise the list as it is. */
  variant?: string | undefined;
  /** The frame, of a sequence. */
  frame?: number | undefined;
}

/** The changes of a list as they are applied: with a variant's values at a frame; under a heading that is off, all are off. */
export function listedChanges(list: ChangeList, { variant, frame }: ListState = {}): ListedChange[] {
  const { changes, headings } = ofFrame(ofVariant(list, variant), frame);
  return changes.map((change): ListedChange => {
    const over = headings.find((h) => h.id === change.heading);
    return over ? { ...change, on: change.on && over.on, over } : change;
  });
}
