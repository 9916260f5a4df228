import { useLocalStorage, useWindowSize } from '@vueuse/core';
import { computed, type WritableComputedRef } from 'vue';

/** One column beside the picture. */
export interface Column {
  open: boolean;
  /** In pixels; undefined leaves it to the window. */
  width: number | undefined;
}

export const NARROWEST = { left: 208, right: 244 };

/**
 * Widths of the columns beside the picture, remembered by the browser. What was never dragged follows the window: on a
 * large one the room goes to the picture.
 */
export function useColumns() {
  const { width: window } = useWindowSize();
  const stored = useLocalStorage<{ left: Column; right: Column }>('zesty-crow/correct-columns', {
    left: { open: true, width: undefined },
    right: { open: true, width: undefined },
  });
  const usual = {
    left: () => Math.round(Math.min(260, Math.max(NARROWEST.left, window.value * 0.165))),
    right: () => Math.round(Math.min(340, Math.max(NARROWEST.right, window.value * 0.225))),
  };
  const side = (name: 'left' | 'right') => ({
    open: computed({
      get: () => stored.value[name].open,
      set: (open) => (stored.value[name] = { ...stored.value[name], open }),
    }),
    /** What the splitter shows; dragging it sets the width. */
    size: computed({
      get: () =>
        Math.max(NARROWEST[name], Math.min(stored.value[name].width ?? usual[name](), window.value / 3)),
      set: (width: number) => {
        if (stored.value[name].open && Number.isFinite(width) && width >= NARROWEST[name])
          stored.value[name] = { open: true, width: Math.round(width) };
      },
    }),
  });
  const left = side('left');
  const right = side('right');
  const flip = (open: WritableComputedRef<boolean>) => (open.value = !open.value);
  return {
    left,
    right,
    flipLeft: () => flip(left.open),
    flipRight: () => flip(right.open),
    /** Both go; if none is there, both come back. */
    flipBoth() {
      const open = !(left.open.value || right.open.value);
      left.open.value = right.open.value = open;
    },
  };
}
