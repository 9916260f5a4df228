import { useEventListener } from '@vueuse/core';
import type { Undoable } from './document.ts';

/** Ctrl+Z and Ctrl+Shift+Z for a document; they rest while something is typed. */
export function useUndoKeys(document: Pick<Undoable, 'undo' | 'redo'>): void {
  function down(e: KeyboardEvent): void {
    const key = e.key.toLowerCase();
    if (!(e.ctrlKey || e.metaKey) || (key !== 'z' && key !== 'y')) return;
    if ((e.target as HTMLElement).closest('input, textarea, [contenteditable]')) return;
    e.preventDefault();
    void (key === 'y' || e.shiftKey ? document.redo() : document.undo());
  }
  useEventListener('keydown', down);
}
