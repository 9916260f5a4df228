import Sortable from 'sortablejs';
import { onMounted, onUnmounted, type Ref } from 'vue';

/** Lets the children of an element be dragged by their `.grip`; `move` changes the data, which draw the list anew. */
export function useSortable(
  element: Ref<HTMLElement | undefined>,
  move: (from: number, to: number) => void,
): void {
  let sortable: Sortable | undefined;
  onMounted(() => {
    sortable = Sortable.create(element.value!, {
      handle: '.grip',
      animation: matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 120,
      // By the pointer itself, not by the browser's own dragging, which shows a washed-out picture of the row.
      forceFallback: true,
      fallbackTolerance: 3,
      onEnd: ({ oldIndex, newIndex, item, from }) => {
        if (oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return;
        // The list draws itself from the data: put the element back before the data moves.
        item.remove();
        from.insertBefore(item, from.children[oldIndex] ?? null);
        move(oldIndex, newIndex);
      },
    });
  });
  onUnmounted(() => sortable?.destroy());
}
