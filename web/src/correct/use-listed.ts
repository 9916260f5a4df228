import { computed, toRaw, type ComputedRef } from 'vue';
import {
  listedChanges,
  type Change,
  type ChangeList,
  type ListedChange,
  type ListState,
} from '@zesty-crow/core/changes';
import { copiedOnto } from '@zesty-crow/core/fields';

/** Strokes that were drawn: the store marks them, since they are only ever taken away as a whole. */
export const isSealed = (value: object): boolean => '__v_skip' in value && value.__v_skip === true;

/**
 * Copies of the changes of a list as they are applied. What was not edited is the very same object as before, and is not
 * gone through: an edit costs what it changes, however long the list is.
 */
export function useListed(list: () => ChangeList, state: () => ListState): ComputedRef<ListedChange[]> {
  const copies = new WeakMap<Change, ComputedRef<ListedChange>>();
  /** The last copy of each, for a list that was read anew. */
  const known = new Map<string, ListedChange>();

  function copyOf(change: Change): ListedChange {
    const raw = toRaw(change);
    let copy = copies.get(raw);
    if (!copy) {
      const { id } = raw;
      copy = computed(() => {
        const [listed] = listedChanges({ ...list(), changes: [change] }, state());
        const own = copiedOnto(known.get(id), listed!, isSealed);
        known.set(id, own);
        return own;
      });
      copies.set(raw, copy);
    }
    return copy.value;
  }
  return computed<ListedChange[]>((last) => {
    const now = list().changes.map(copyOf);
    return last?.length === now.length && now.every((c, i) => c === last[i]) ? last : now;
  });
}
