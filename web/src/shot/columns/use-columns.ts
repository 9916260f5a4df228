import { useLocalStorage, useWindowSize } from '@vueuse/core';
import { computed } from 'vue';

/** A column beside what a stage is about, as it is remembered. */
interface Remembered {
  open: boolean;
  /** In pixels; undefined leaves it to the window. */
  width: number | undefined;
}
type Side = 'left' | 'right';

/** What is to be known of a column. */
export interface ColumnUse {
  /** What it holds, for its button: `the change list`. */
  label: string;
  /** The key that folds it, where the stage has one. */
  keyName?: string;
  /** In pixels. */
  narrowest: number;
  /** Its width where it was never dragged, by the window's. */
  usual(window: number): number;
}

/**
 * Columns beside what a stage is about: they resize, fold, and are remembered by the browser. What was never dragged
 * follows the window: on a large one the room goes to the picture.
 * @param stage under which they are remembered
 */
export function useColumns(stage: string, uses: Partial<Record<Side, ColumnUse>>) {
  const { width: window } = useWindowSize();
  const stored = useLocalStorage<Record<Side, Remembered>>(`zesty-crow/${stage}-columns`, {
    left: { open: true, width: undefined },
    right: { open: true, width: undefined },
  });
  const columnOf = (name: Side) => {
    const use = uses[name];
    if (!use) return undefined;
    const { narrowest, usual } = use;
    return {
      ...use,
      open: computed({
        get: () => stored.value[name].open,
        set: (open) => (stored.value[name] = { ...stored.value[name], open }),
      }),
      /** What the splitter shows; dragging it sets the width. */
      size: computed({
        get: () =>
          Math.max(narrowest, Math.min(stored.value[name].width ?? usual(window.value), window.value / 3)),
        set: (width: number) => {
          if (stored.value[name].open && Number.isFinite(width) && width >= narrowest)
            stored.value[name] = { open: true, width: Math.round(width) };
        },
      }),
    };
  };
  const [left, right] = [columnOf('left'), columnOf('right')];
  const flip = (column: typeof left) => column && (column.open.value = !column.open.value);
  return {
    left,
    right,
    flipLeft: () => void flip(left),
    flipRight: () => void flip(right),
    /** Both go; if none is there, both come back. */
    flipBoth() {
      const open = !(left?.open.value || right?.open.value);
      for (const column of [left, right]) if (column) column.open.value = open;
    },
  };
}
export type Columns = ReturnType<typeof useColumns>;

/** A width that goes with the window, within limits. */
export const shareOfWindow = (share: number, least: number, most: number) => (window: number) =>
  Math.round(Math.min(most, Math.max(least, window * share)));
