import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import {
  CORRECTIONS,
  correctionOf,
  emptyChangeList,
  type Change,
  type StepUse,
  type MemberPick,
} from '@zesty-crow/core';
import { useDocument } from '../shot/document.ts';

const newId = () => crypto.randomUUID().slice(0, 13);

/** The change list of the open shot, with its history on the server. */
export const useChanges = defineStore('changes', () => {
  const document = useDocument('changes', emptyChangeList);
  const { body: list, commit } = document;
  const openId = ref<string>();
  const open = computed(() => list.value.changes.find((c) => c.id === openId.value));
  watch(list, (now) => {
    if (!open.value) openId.value = now.changes[0]?.id;
  });

  async function load(id: string): Promise<void> {
    await document.load(id);
    openId.value = list.value.changes[0]?.id;
  }

  function addChange(words = '', who: MemberPick[] = []): Change {
    const change: Change = { id: newId(), words, on: true, done: false, who, edge: [], corrections: [] };
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
  function addCorrection(change: Change, kind: string): void {
    const correction: StepUse = { id: newId(), kind, on: true, values: {} };
    change.corrections.push(correction);
    void commit(`Add ${correctionOf(kind)!.label.toLowerCase()}`);
  }
  function removeCorrection(change: Change, id: string): void {
    change.corrections = change.corrections.filter((c) => c.id !== id);
    void commit('Remove correction');
  }

  return {
    ...document,
    list,
    openId,
    open,
    kinds: CORRECTIONS,
    load,
    addChange,
    removeChange,
    moveChange,
    setWho,
    addCorrection,
    removeCorrection,
  };
});
