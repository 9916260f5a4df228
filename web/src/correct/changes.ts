import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import {
  emptyChangeList,
  noMask,
  upgradeChangeList,
  type Change,
  type StepUse,
  type MemberPick,
} from '@zesty-crow/core';
import { useDocument } from '../shot/document.ts';
import { STEP_LISTS, type StepListName } from './step-kinds.ts';

const newId = () => crypto.randomUUID().slice(0, 13);

/** The change list of the open shot, with its history on the server. */
export const useChanges = defineStore('changes', () => {
  const document = useDocument('changes', emptyChangeList, upgradeChangeList);
  const { body: list, commit } = document;
  const openId = ref<string>();
  const open = computed(() => list.value.changes.find((c) => c.id === openId.value));
  watch(list, (now) => {
    if (!open.value) openId.value = now.changes[0]?.id;
  });

  async function load(id: string): Promise<void> {
    await document.load(id);
    // What was open stays open, also from one stage to another.
    if (!open.value) openId.value = list.value.changes[0]?.id;
  }

  function addChange(words = '', who: MemberPick[] = []): Change {
    const change: Change = {
      id: newId(),
      words,
      on: true,
      done: false,
      ...noMask(),
      who,
      plainEdges: false,
      corrections: [],
    };
    list.value.changes.push(change);
    openId.value = change.id;
    void commit('New change');
    return change;
  }
  function removeChange(id: string): void {
    const at = list.value.changes.findIndex((c) => c.id === id);
    if (at < 0) return;
    const [gone] = list.value.changes.splice(at, 1);
    if (openId.value === id)
      openId.value = list.value.changes[Math.min(at, list.value.changes.length - 1)]?.id;
    void commit(`Delete “${gone!.words || 'change'}”`);
  }
  function moveChange(from: number, to: number): void {
    const [moved] = list.value.changes.splice(from, 1);
    if (!moved) return;
    list.value.changes.splice(to, 0, moved);
    void commit('Reorder changes');
  }
  /** Sets the picks of the open change; makes a change first if there is none. */
  function setWho(who: MemberPick[]): void {
    const change = open.value ?? addChange();
    const target = list.value.changes.find((c) => c.id === change.id)!;
    target.who = who;
  }
  function setPlainEdges(change: Change, plain: boolean): void {
    change.plainEdges = plain;
    void commit(plain ? 'Plain edges' : 'Clean edges');
  }
  const stepOf = (change: Change, which: StepListName, id: string): StepUse | undefined =>
    change[which].find((s) => s.id === id);
  const labelOf = (which: StepListName, kind: string): string =>
    (STEP_LISTS[which].kinds.find((k) => k.kind === kind)?.label ?? kind).toLowerCase();

  function addStep(
    change: Change,
    which: StepListName,
    { kind, values }: Pick<StepUse, 'kind' | 'values'>,
  ): void {
    change[which].push({ id: newId(), kind, on: true, values });
    void commit(`Add ${labelOf(which, kind)}`);
  }
  function removeStep(change: Change, which: StepListName, id: string): void {
    const step = stepOf(change, which, id);
    if (!step) return;
    change[which] = change[which].filter((s) => s !== step);
    void commit(`Remove ${labelOf(which, step.kind)}`);
  }
  function moveStep(change: Change, which: StepListName, from: number, to: number): void {
    const [moved] = change[which].splice(from, 1);
    if (!moved) return;
    change[which].splice(to, 0, moved);
    void commit(`Reorder ${STEP_LISTS[which].one}s`);
  }
  /** All values neutral; the step stays. */
  function resetStep(change: Change, which: StepListName, id: string): void {
    const step = stepOf(change, which, id);
    if (!step) return;
    step.values = {};
    void commit(`Reset ${labelOf(which, step.kind)}`);
  }
  /** Puts a copy at the end of another change. */
  function copyStep(step: StepUse, which: StepListName, toChange: string): void {
    const target = list.value.changes.find((c) => c.id === toChange);
    if (!target) return;
    target[which].push({ ...(JSON.parse(JSON.stringify(step)) as StepUse), id: newId() });
    void commit(`Copy ${labelOf(which, step.kind)} to “${target.words || 'change'}”`.slice(0, 200));
  }

  return {
    ...document,
    list,
    openId,
    open,
    load,
    addChange,
    removeChange,
    moveChange,
    setWho,
    setPlainEdges,
    stepOf,
    addStep,
    removeStep,
    moveStep,
    resetStep,
    copyStep,
  };
});
