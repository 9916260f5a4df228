import { useEventListener } from '@vueuse/core';
import { useChanges } from './changes.ts';
import { useLook } from './look.ts';

/** The keys of the Correct stage. They rest while something is typed or a dialog is open. */
export function useKeys(
  viewer: { fit(): void; actual(): void; zoomBy(factor: number): void },
  columns: { flipLeft(): void; flipRight(): void; flipBoth(): void },
): void {
  const view = useLook();
  const changes = useChanges();

  const keys: Record<string, () => void> = {
    '1': () => (view.look = 'picture'),
    '2': () => (view.look = 'ids'),
    '3': () => (view.look = 'mask'),
    '4': () => (view.look = 'cutout'),
    b: () => (view.holdBefore = true),
    v: () => (view.divider = view.divider === undefined ? 0.5 : undefined),
    p: () => (view.showPicks = !view.showPicks),
    x: () => view.nextLayer(),
    n: () => view.behind++,
    a: () => (view.alone = !view.alone),
    m: () => (view.beside = !view.beside),
    c: () => (view.tool = 'pick'),
    d: () => (view.tool = 'lasso'),
    r: () => (view.tool = 'box'),
    k: () => (view.tool = 'brush'),
    escape: () => {
      view.swapping = undefined;
      view.tool = 'pick';
    },
    f: () => viewer.fit(),
    h: () => viewer.actual(),
    l: () => columns.flipLeft(),
    s: () => columns.flipRight(),
    w: () => columns.flipBoth(),
    '+': () => viewer.zoomBy(1.25),
    '-': () => viewer.zoomBy(0.8),
  };

  const typing = (e: KeyboardEvent) =>
    (e.target as HTMLElement).closest('input, textarea, [contenteditable], .el-dialog, .el-select') !== null;

  function down(e: KeyboardEvent): void {
    if (typing(e)) return;
    const key = e.key.toLowerCase();
    if (e.ctrlKey || e.metaKey) {
      if (key === 'z' || key === 'y') {
        e.preventDefault();
        void (key === 'y' || e.shiftKey ? changes.redo() : changes.undo());
      }
      return;
    }
    if (e.altKey) return;
    const act = keys[key];
    if (!act) return;
    e.preventDefault();
    act();
  }
  function up(e: KeyboardEvent): void {
    if (e.key.toLowerCase() === 'b') view.holdBefore = false;
  }
  const blur = () => (view.holdBefore = false);
  useEventListener('keydown', down);
  useEventListener('keyup', up);
  useEventListener('blur', blur);
}
