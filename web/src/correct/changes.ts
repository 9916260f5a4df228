import { defineStore } from 'pinia';
import { computed, ref, toRaw } from 'vue';
import {
  CORRECTIONS,
  correctionOf,
  emptyChangeList,
  type Change,
  type ChangeList,
  type CorrectionUse,
  type Pick,
} from '@zesty-crow/core';
import { api, ServerProblem, type ChangeState } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';

const newId = () => crypto.randomUUID().slice(0, 13);
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(toRaw(value))) as T;

/** The change list of the open shot, with its history on the server. */
export const useChanges = defineStore('changes', () => {
  const shotId = ref<string>();
  const list = ref<ChangeList>(emptyChangeList());
  const openId = ref<string>();
  const undoLabel = ref<string>();
  const redoLabel = ref<string>();
  /** `unsaved` tells that the server did not take the last edit. */
  const saving = ref<'saved' | 'saving' | 'unsaved'>('saved');
  let revision = 0;
  /** The list as the server has it: edits compare against it. */
  let saved = '';
  let queue: Promise<void> = Promise.resolve();

  const open = computed(() => list.value.changes.find((c) => c.id === openId.value));

  function take(state: ChangeState): void {
    revision = state.revision;
    list.value = state.list;
    saved = JSON.stringify(state.list);
    undoLabel.value = state.undo;
    redoLabel.value = state.redo;
    if (!open.value) openId.value = state.list.changes[0]?.id;
  }

  async function load(id: string): Promise<void> {
    shotId.value = id;
    take(await api.changes(id));
    openId.value = list.value.changes[0]?.id;
  }

  /** Runs server calls one after another; a conflict loads what the other window made. */
  function queued(work: (id: string) => Promise<ChangeState>, keepLocal: boolean): Promise<void> {
    queue = queue.then(async () => {
      const id = shotId.value;
      if (!id) return;
      saving.value = 'saving';
      try {
        const state = await work(id);
        // Edits made while this was on its way stay; they are next in the queue.
        if (keepLocal) {
          revision = state.revision;
          undoLabel.value = state.undo;
          redoLabel.value = state.redo;
        } else take(state);
        saving.value = 'saved';
      } catch (error) {
        const current =
          error instanceof ServerProblem ? (error.body['current'] as ChangeState | undefined) : undefined;
        if (current) {
          take(current);
          saving.value = 'saved';
        } else saving.value = 'unsaved';
        notifyError(error);
      }
    });
    return queue;
  }

  /** Records the list as it is now as one step of the history. */
  function commit(label: string): Promise<void> {
    const now = JSON.stringify(list.value);
    if (now === saved && saving.value !== 'unsaved') return queue;
    saved = now;
    const state = copy(list.value);
    return queued((id) => api.saveChanges(id, revision, label, state), true);
  }
  const undo = () => queued((id) => api.undo(id, revision), false);
  const redo = () => queued((id) => api.redo(id, revision), false);
  const saveAgain = () => {
    const state = copy(list.value);
    return queued((id) => api.saveChanges(id, revision, 'Edits made offline', state), true);
  };

  // Another window has edited the list: follow it, unless there is something here that it does not have.
  listen({
    shot: (id) => {
      if (id !== shotId.value) return;
      void queue.then(async () => {
        if (id !== shotId.value || saving.value !== 'saved' || JSON.stringify(list.value) !== saved) return;
        const state = await api.changes(id).catch(() => undefined);
        if (state && state.revision > revision && JSON.stringify(list.value) === saved) take(state);
      });
    },
  });

  function addChange(words = ''): Change {
    const change: Change = { id: newId(), words, on: true, done: false, who: [], corrections: [] };
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
  function setWho(who: Pick[]): void {
    const change = open.value ?? addChange();
    const target = list.value.changes.find((c) => c.id === change.id)!;
    target.who = who;
  }
  function addCorrection(change: Change, kind: string): void {
    const correction: CorrectionUse = { id: newId(), kind, on: true, values: {} };
    change.corrections.push(correction);
    void commit(`Add ${correctionOf(kind)!.label.toLowerCase()}`);
  }
  function removeCorrection(change: Change, id: string): void {
    change.corrections = change.corrections.filter((c) => c.id !== id);
    void commit('Remove correction');
  }

  return {
    shotId,
    list,
    openId,
    open,
    undoLabel,
    redoLabel,
    saving,
    kinds: CORRECTIONS,
    load,
    commit,
    undo,
    redo,
    saveAgain,
    addChange,
    removeChange,
    moveChange,
    setWho,
    addCorrection,
    removeCorrection,
  };
});
