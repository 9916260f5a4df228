import { computed, type ComputedRef } from 'vue';
import {
  listedChanges,
  type ChangeList,
  type ListedChange,
  type ListState,
  type VariantSet,
} from '@zesty-crow/core/changes';
import { sharedWith } from '@zesty-crow/core/fields';

/** A change as it is applied, with the very objects that made it so. */
interface Listed {
  of: readonly unknown[];
  change: ListedChange;
}

const same = (a: readonly unknown[], b: readonly unknown[]) =>
  a.length === b.length && a.every((v, i) => v === b[i]);

/** What a variant sets, change by change. */
function setsOf({ variants }: ChangeList, id: string | undefined): Map<string, VariantSet[]> {
  const sets = new Map<string, VariantSet[]>();
  for (const set of variants.find((v) => v.id === id)?.sets ?? [])
    sets.set(set.change, [...(sets.get(set.change) ?? []), set]);
  return sets;
}

/**
 * The changes of a list as they are applied. What was not edited is the very same object as before, and is not gone
 * through: an edit costs what it changes, however long the list is.
 */
export function useListed(list: () => ChangeList, state: () => ListState): ComputedRef<ListedChange[]> {
  let known = new Map<string, Listed>();

  return computed<ListedChange[]>((last) => {
    const whole = list();
    const at = state();
    const sets = setsOf(whole, at.variant);
    const headings = new Map(whole.headings.map((h) => [h.id, h]));
    const next = new Map<string, Listed>();
    const now = whole.changes.map((change) => {
      const over = change.heading === undefined ? undefined : headings.get(change.heading);
      const of = [change, over, at.frame, ...(sets.get(change.id) ?? [])];
      const before = known.get(change.id);
      if (before && same(before.of, of)) {
        next.set(change.id, before);
        return before.change;
      }
      const [made] = listedChanges({ ...whole, changes: [change] }, at);
      // Another frame often says the same.
      const listed = { of, change: sharedWith(before?.change, made!) };
      next.set(change.id, listed);
      return listed.change;
    });
    known = next;
    return last && same(last, now) ? last : now;
  });
}
