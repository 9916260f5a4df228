import { useLocalStorage } from '@vueuse/core';

/** Parts of the sheet that fold, and how each is for who has never touched it. */
const USUAL = { edge: true, fence: true, brush: true, comments: false };
export type SheetPart = keyof typeof USUAL;

/** Which parts of the sheet are unfolded, remembered by the browser. */
export function usePartsOpen() {
  const stored = useLocalStorage<Partial<Record<SheetPart, boolean>>>('zesty-crow/sheet-parts', {});
  const isOpen = (part: SheetPart): boolean => stored.value[part] ?? USUAL[part];
  return {
    isOpen,
    set: (part: SheetPart, open: boolean) => (stored.value = { ...stored.value, [part]: open }),
    flip: (part: SheetPart) => (stored.value = { ...stored.value, [part]: !isOpen(part) }),
  };
}

/** Steps that are remembered; there are never so many in sight. */
const MOST = 200;

/** Which steps are unfolded, by their ids; any number of them. */
export function useStepsOpen() {
  const ids = useLocalStorage<string[]>('zesty-crow/open-steps', []);
  const without = (id: string) => ids.value.filter((other) => other !== id);
  return {
    ids,
    isOpen: (id: string) => ids.value.includes(id),
    open: (id: string) => (ids.value = [...without(id), id].slice(-MOST)),
    flip: (id: string) =>
      (ids.value = ids.value.includes(id) ? without(id) : [...ids.value, id].slice(-MOST)),
  };
}
