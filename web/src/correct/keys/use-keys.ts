import { useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useChanges } from '../../shot/changes/changes.ts';
import { useSequence } from '../frames/sequence.ts';
import { useKeyChoices } from './key-choices.ts';
import { COMMON_KEYS, type KeyUse } from './keys.ts';
import { STAGE_TOOLS } from '../pointer/tools/list.ts';
import { useView } from '../../shot/view.ts';

/**
 * The keys of the Correct stage. They rest while something is typed or a dialog is open.
 * @returns all keys that there are, and whether their sheet is open
 */
export function useKeys(
  viewer: {
    fit(): void;
    actual(): void;
    zoomBy(factor: number): void;
    list(): void;
    /** Tells everything under the pointer. */
    unfold(on: boolean): void;
    scopes(): void;
    wall(): void;
    back(): void;
  },
  columns: { flipLeft(): void; flipRight(): void; flipBoth(): void },
) {
  const view = useView();
  const changes = useChanges();
  const sequence = useSequence();
  const sheet = ref(false);

  const own: readonly KeyUse[] = [
    { key: '1', label: 'Picture', group: 'Look', act: () => (view.mode = 'picture') },
    { key: '2', label: 'ID map', group: 'Look', act: () => (view.mode = 'ids') },
    { key: '3', label: 'Mask', group: 'Look', act: () => (view.mode = 'mask') },
    { key: '4', label: 'Cut-out', group: 'Look', act: () => (view.mode = 'cutout') },
    { key: '5', label: 'Difference from before', group: 'Look', act: () => (view.mode = 'difference') },
    {
      key: 'B',
      label: 'As rendered, while it is held',
      group: 'Look',
      act: () => (view.holdBefore = true),
      release: () => (view.holdBefore = false),
    },
    {
      key: 'V',
      label: 'Divider between before and after',
      group: 'Look',
      act: () => (view.divider = view.divider === undefined ? 0.5 : undefined),
    },
    {
      key: 'P',
      label: 'Outline of what is picked',
      group: 'Look',
      act: () => (view.showPicks = !view.showPicks),
    },
    { key: 'A', label: 'The open change alone', group: 'Look', act: () => (view.alone = !view.alone) },
    {
      key: 'M',
      label: 'The mask beside the picture',
      group: 'Look',
      act: () => view.flipBeside('mask'),
    },
    {
      key: 'G',
      label: 'Before beside after',
      group: 'Look',
      act: () => view.flipBeside('before'),
    },
    { key: 'J', label: 'Scopes', group: 'Look', act: () => viewer.scopes() },
    { key: 'Y', label: 'All variants', group: 'Look', act: () => viewer.wall() },
    { key: 'Q', label: 'Play and stop', group: 'Frames', act: () => sequence.flip() },
    { key: ',', label: 'Frame before', group: 'Frames', act: () => sequence.goBy(-1) },
    { key: '.', label: 'Frame after', group: 'Frames', act: () => sequence.goBy(1) },
    { key: 'I', label: 'Play from this frame on', group: 'Frames', act: () => sequence.setEnd('first') },
    { key: 'O', label: 'Play up to this frame', group: 'Frames', act: () => sequence.setEnd('last') },
    ...STAGE_TOOLS.flatMap(({ name, choice }): KeyUse[] =>
      choice ? [{ ...choice, group: 'Choose', act: () => (view.tool = name) }] : [],
    ),
    { key: 'X', label: 'Next kind of ID', group: 'Choose', act: () => view.nextLayer() },
    { key: 'N', label: 'Next ID under the pointer', group: 'Choose', act: () => view.behind++ },
    {
      key: 'T',
      label: 'All that lies under the pointer, to take from',
      group: 'Choose',
      act: () => viewer.list(),
    },
    {
      key: 'E',
      label: 'Everything under the pointer, while it is held',
      group: 'Choose',
      act: () => viewer.unfold(true),
      release: () => viewer.unfold(false),
    },
    {
      key: 'Esc',
      label: 'Back to the picture, and to click and sweep; ends a swap',
      group: 'Choose',
      act: () => {
        view.swapping = undefined;
        view.tool = 'pick';
        viewer.back();
      },
    },
    { key: 'F', label: 'Whole picture', group: 'Zoom', act: () => viewer.fit() },
    { key: 'H', label: 'One to one', group: 'Zoom', act: () => viewer.actual() },
    { key: '+', label: 'Closer', group: 'Zoom', act: () => viewer.zoomBy(1.25) },
    { key: '-', label: 'Farther', group: 'Zoom', act: () => viewer.zoomBy(0.8) },
    { key: 'Wheel', label: 'Closer and farther where the pointer is', group: 'Zoom' },
    { key: 'Space', label: 'Hold and drag to move the picture', group: 'Zoom' },
    { key: 'L', label: 'Change list', group: 'Columns', act: () => columns.flipLeft() },
    { key: 'S', label: 'Open change', group: 'Columns', act: () => columns.flipRight() },
    { key: 'W', label: 'Both columns', group: 'Columns', act: () => columns.flipBoth() },
    { key: '?', label: 'This sheet', group: 'Everywhere', act: () => (sheet.value = true) },
  ];
  const choices = useKeyChoices();
  const named: Record<string, string> = { escape: 'esc' };
  const byKey = computed(() => new Map(own.map((k) => [choices.keyOf(k.key).toLowerCase(), k])));
  const useOf = (e: KeyboardEvent) => {
    const key = e.key.toLowerCase();
    return byKey.value.get(named[key] ?? key);
  };

  const typing = (e: KeyboardEvent) =>
    (e.target as HTMLElement).closest('input, textarea, [contenteditable], .el-dialog, .el-select') !== null;

  function down(e: KeyboardEvent): void {
    // A swap is left wherever the keyboard is.
    if (e.key === 'Escape') view.swapping = undefined;
    if (typing(e)) return;
    const key = e.key.toLowerCase();
    if (e.ctrlKey || e.metaKey) {
      if (key === 'z' || key === 'y') {
        e.preventDefault();
        void (key === 'y' || e.shiftKey ? changes.redo() : changes.undo());
      }
      return;
    }
    const use = e.altKey ? undefined : useOf(e);
    if (!use?.act) return;
    e.preventDefault();
    use.act();
  }
  const up = (e: KeyboardEvent) => useOf(e)?.release?.();
  const blur = () => own.forEach((k) => k.release?.());
  useEventListener('keydown', down);
  useEventListener('keyup', up);
  useEventListener('blur', blur);
  return { keys: [...own, ...COMMON_KEYS], sheet };
}
