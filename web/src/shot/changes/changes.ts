import { defineStore } from 'pinia';
import { computed, markRaw, ref, watch } from 'vue';
import {
  cardRows,
  emptyChangeList,
  ofVariant,
  upgradeChangeList,
  type Change,
  type ChangeList,
  type FrameRange,
  type Keyframe,
  type StepKey,
  type StepUse,
} from '@zesty-crow/core/changes';
import * as edit from '@zesty-crow/core/changes/edit';
import { sharedWith, type FieldValue, type FieldValues } from '@zesty-crow/core/fields';
import type { Follow, Stroke } from '@zesty-crow/core/masks';
import type { MemberPick } from '@zesty-crow/core/picks';
import type { Size } from '@zesty-crow/core/planes';
import { findAgain, type Renaming } from '@zesty-crow/core/relink';
import { useDocument } from '../document.ts';

type Edited = edit.Edited;
type Owner = edit.Owner;

const newId = () => crypto.randomUUID().slice(0, 13);

/** What the history keeps of an edit in words. */
const MOST_WORDS = 200;

/**
 * The change list of the open shot, with its history on the server. The list itself is never changed in place: each edit
 * makes another one (`core/changes/edit`), and what is kept here is which list stands, what is open, and what was sent.
 */
export const useChanges = defineStore('changes', () => {
  // A list that comes from the server shares all that is as it was, and nothing in it is watched: it is replaced.
  const document = useDocument('changes', emptyChangeList, upgradeChangeList, (body, before) =>
    markRaw(sharedWith(before, body)),
  );
  const { body: list } = document;
  /** The variant that is worked on: values that are set go into it. None is the list itself. */
  const variantId = ref<string>();
  const variant = computed(() => list.value.variants.find((v) => v.id === variantId.value));
  /** The list as it is worked on, with the values of the variant. */
  const shown = computed(() => ofVariant(list.value, variantId.value));
  /** The frame that is open, of a sequence. */
  const frame = ref<number>();
  const openId = ref<string>();
  const open = computed(() => shown.value.changes.find((c) => c.id === openId.value));
  const openHeading = computed(() => list.value.headings.find((h) => h.id === openId.value));
  /** What the sheet shows and what a click in the picture goes to. */
  const owner = computed((): Owner | undefined => open.value ?? openHeading.value);
  const rows = computed(() => cardRows(shown.value));
  const state = () => ({ variant: variantId.value, frame: frame.value });
  watch(list, (now) => {
    if (!owner.value) openId.value = now.changes[0]?.id;
  });
  watch(document.shotId, () => (variantId.value = undefined));

  async function load(id: string): Promise<void> {
    await document.load(id);
    // What was open stays open, also from one stage to another.
    if (!owner.value) openId.value = list.value.changes[0]?.id;
  }

  // ---- edits

  /** What was edited since the last step of the history, in words, and the variant that it went into. */
  let pending: Pick<Edited, 'words' | 'inVariant'> | undefined;

  /** Shows an edit, which is no step of the history yet: a slider is still being dragged, a word still typed. */
  function show(edited: Edited | undefined): void {
    if (!edited) return;
    list.value = markRaw(edited.list);
    if ('open' in edited) openId.value = edited.open;
    pending = edited;
  }
  /** Makes what was shown a step of the history, in the words of the edit where it has no better ones. */
  function commit(words = pending?.words ?? 'Edit'): Promise<void> {
    const where = pending?.inVariant === undefined ? '' : ` in “${pending.inVariant}”`;
    pending = undefined;
    return document.commit(`${words}${where}`.slice(0, MOST_WORDS));
  }
  /** Shows an edit and records it. */
  function make(edited: Edited | undefined): void {
    show(edited);
    if (edited) void commit();
  }
  /** The change or heading that is worked on; a change is made first if there is none. */
  const worked = (): string => owner.value?.id ?? addChange().id;

  function addChange(words = '', who: readonly MemberPick[] = []): Change {
    make(edit.addChange(list.value, newId(), words, who));
    return list.value.changes.at(-1)!;
  }
  function addVariant(name: string): void {
    make(edit.addVariant(list.value, newId(), name));
    variantId.value = list.value.variants.at(-1)!.id;
  }
  function removeVariant(id: string): void {
    make(edit.removeVariant(list.value, id));
    if (variantId.value === id) variantId.value = undefined;
  }

  return {
    ...document,
    commit,
    list,
    shown,
    frame,
    variantId,
    variant,
    openId,
    open,
    openHeading,
    owner,
    rows,
    load,

    addChange,
    removeChange: (id: string) => make(edit.removeChange(list.value, id, openId.value)),
    moveRow: (from: number, to: number) => make(edit.moveRow(list.value, from, to)),
    copyChange: ({ id }: Change) => make(edit.copyChange(list.value, id, newId())),
    splitChange: ({ id }: Change) => make(edit.splitChange(list.value, id, newId)),
    joinChange: ({ id }: Change, other: string) => make(edit.joinChange(list.value, id, other, openId.value)),
    setDone: ({ id }: Change, done: boolean) => make(edit.setDone(list.value, id, done)),
    setWords: ({ id }: Owner, words: string) => show(edit.setWords(list.value, id, words)),

    addHeading: (over?: Change) => make(edit.addHeading(list.value, newId(), over?.id)),
    removeHeading: (id: string) => make(edit.removeHeading(list.value, id, openId.value)),
    putUnder: ({ id }: Change, heading: string | undefined) => make(edit.putUnder(list.value, id, heading)),

    /** Sets the picks of what is open; no step of the history yet. */
    setWho(who: readonly MemberPick[]): void {
      const id = worked();
      show(edit.setPicks(list.value, id, who));
    },
    /** Lets picks mean the same names in the layers of what is seen in mirrors and through glass. */
    alsoMean: ({ id }: Change, elsewhere: (layer: string) => readonly string[]) =>
      make(edit.alsoMean(list.value, id, elsewhere)),
    setPlainEdges: ({ id }: Change, plain: boolean) => make(edit.setPlainEdges(list.value, id, plain)),
    /** Begins a stroke on what is open; what is drawn of it shows at once, and it is kept when it ends. */
    beginStroke(stroke: Stroke): void {
      const id = worked();
      show(edit.addStroke(list.value, id, stroke));
    },
    goStroke(x: number, y: number): void {
      if (owner.value) show(edit.lengthenStroke(list.value, owner.value.id, x, y));
    },
    endStroke: () => void commit(),
    clearStrokes: ({ id }: Owner) => make(edit.clearStrokes(list.value, id)),

    /** A step of the list itself, whatever the variant that is shown says of it. */
    stepOf: ({ id }: Owner, which: StepKey, step: string) => edit.stepIn(list.value, id, which, step),
    /** Sets values of a step; no step of the history yet. */
    setValues: ({ id }: Owner, which: StepKey, step: string, values: FieldValues) =>
      show(edit.setValues(list.value, state(), id, which, step, values)),
    resetStep: ({ id }: Owner, which: StepKey, step: string) =>
      make(edit.resetStep(list.value, state(), id, which, step)),
    setStepOn: ({ id }: Owner, which: StepKey, step: string, on: boolean) =>
      make(edit.setStepOn(list.value, state(), id, which, step, on)),
    setOn: ({ id }: Owner, on: boolean) => make(edit.setOn(list.value, state(), id, on)),
    addStep: ({ id }: Owner, which: StepKey, step: Pick<StepUse, 'kind' | 'values'>) =>
      make(edit.addStep(list.value, id, which, { ...step, id: newId() })),
    removeStep: ({ id }: Owner, which: StepKey, step: string) =>
      make(edit.removeStep(list.value, id, which, step)),
    moveStep: ({ id }: Owner, which: StepKey, from: number, to: number) =>
      make(edit.moveStep(list.value, id, which, from, to)),
    /** Puts copies of steps at the end of another change. */
    copySteps: (steps: readonly StepUse[], which: StepKey, to: string) =>
      make(edit.copySteps(list.value, steps, which, to, newId)),
    addPreset: ({ id }: Owner, steps: readonly StepUse[], name: string) =>
      make(edit.addPreset(list.value, id, steps, name, newId)),

    setFollow: ({ id }: Owner, step: string, follow: Follow | undefined) =>
      make(edit.setFollow(list.value, id, step, follow)),
    /** Puts a keyframe at the frame that is open. */
    setKey({ id }: Owner, which: StepKey, step: string, key: string, value: FieldValue): void {
      if (frame.value === undefined) return;
      make(edit.setKey(list.value, id, which, step, key, { frame: frame.value, value }));
    },
    setWay: ({ id }: Owner, which: StepKey, step: string, key: string, at: Keyframe, way: Keyframe['way']) =>
      make(edit.setWay(list.value, id, which, step, key, at, way)),
    removeKey: ({ id }: Owner, which: StepKey, step: string, key: string, at: number) =>
      make(edit.removeKey(list.value, id, which, step, key, at)),
    setFrames: ({ id }: Change, frames: FrameRange) => make(edit.setFrames(list.value, id, frames)),

    addVariant,
    addVariants: (
      made: readonly { name: string; values: FieldValues }[],
      at: { change: string; step: string },
    ) => make(edit.addVariants(list.value, made, at, newId)),
    copyVariant: (id: string) => make(edit.copyVariant(list.value, id, newId())),
    renameVariant: (id: string, name: string) => make(edit.renameVariant(list.value, id, name)),
    removeVariant,
    /** Takes back what the variant that is worked on sets of a step. */
    backToList({ id }: Owner, step: string): void {
      if (variantId.value !== undefined) make(edit.backToList(list.value, variantId.value, id, step));
    },

    takeAll: (other: ChangeList, from: string) => make(edit.takeAll(list.value, other, from, newId)),
    placeOver: (size: Size) => make(edit.placeOver(list.value, size)),
    rename: (renamings: readonly Renaming[]) => make(findAgain(list.value, renamings)),
    addComment: ({ id }: Change, text: string) =>
      make(edit.addComment(list.value, id, { id: newId(), text, at: new Date().toISOString() })),
    removeComment: ({ id }: Change, comment: string) => make(edit.removeComment(list.value, id, comment)),
  };
});
