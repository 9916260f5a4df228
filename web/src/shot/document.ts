import { computed, ref, toRaw, type Ref } from 'vue';
import { api, ServerProblem, type Documents, type HistoryState } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(toRaw(value))) as T;

/**
 * A document of the open shot that is edited in place and recorded step by step on the server, with undo and redo
 * kept there. Two windows cannot overwrite each other: who comes second gets what the first one made.
 */
export function useDocument<K extends keyof Documents>(kind: K, empty: () => Documents[K]) {
  type Body = Documents[K];
  const shotId = ref<string>();
  const body = ref(empty()) as Ref<Body>;
  const undoLabel = ref<string>();
  const redoLabel = ref<string>();
  /** `unsaved` tells that the server did not take the last edit. */
  const saving = ref<'saved' | 'saving' | 'unsaved'>('saved');
  let revision = 0;
  /** The document as the server has it: edits compare against it. */
  let saved = '';
  let queue: Promise<void> = Promise.resolve();

  function labels(state: HistoryState<Body>): void {
    revision = state.revision;
    undoLabel.value = state.undo;
    redoLabel.value = state.redo;
  }
  function take(state: HistoryState<Body>): void {
    labels(state);
    body.value = state.body;
    saved = JSON.stringify(state.body);
  }
  async function load(id: string): Promise<void> {
    shotId.value = id;
    take(await api.document(kind, id));
    saving.value = 'saved';
  }

  /** Runs server calls one after another; a conflict loads what the other window made. */
  function queued(work: (id: string) => Promise<HistoryState<Body>>, keepLocal: boolean): Promise<void> {
    queue = queue.then(async () => {
      const id = shotId.value;
      if (!id) return;
      saving.value = 'saving';
      try {
        const state = await work(id);
        // Edits made while this was on its way stay; they are next in the queue.
        if (keepLocal) labels(state);
        else take(state);
        saving.value = 'saved';
      } catch (error) {
        const current =
          error instanceof ServerProblem
            ? (error.body['current'] as HistoryState<Body> | undefined)
            : undefined;
        if (current) {
          take(current);
          saving.value = 'saved';
        } else saving.value = 'unsaved';
        notifyError(error);
      }
    });
    return queue;
  }

  /** Records the document as it is now as one step of the history. */
  function commit(label: string): Promise<void> {
    const now = JSON.stringify(body.value);
    if (now === saved && saving.value !== 'unsaved') return queue;
    saved = now;
    const state = copy(body.value);
    return queued((id) => api.saveDocument(kind, id, revision, label.slice(0, 200), state), true);
  }
  const undo = () => queued((id) => api.moveDocument(kind, 'undo', id, revision), false);
  const redo = () => queued((id) => api.moveDocument(kind, 'redo', id, revision), false);
  const saveAgain = () => {
    const state = copy(body.value);
    return queued((id) => api.saveDocument(kind, id, revision, 'Edits made offline', state), true);
  };

  // Another window has edited it: follow, unless there is something here that it does not have.
  listen({
    shot: (id) => {
      if (id !== shotId.value) return;
      void queue.then(async () => {
        if (id !== shotId.value || saving.value !== 'saved' || JSON.stringify(body.value) !== saved) return;
        const state = await api.document(kind, id).catch(() => undefined);
        if (state && state.revision > revision && JSON.stringify(body.value) === saved) take(state);
      });
    },
  });

  return {
    shotId,
    body,
    saving,
    undoLabel,
    redoLabel,
    canUndo: computed(() => undoLabel.value !== undefined),
    canRedo: computed(() => redoLabel.value !== undefined),
    load,
    commit,
    undo,
    redo,
    saveAgain,
  };
}

/** What the bar over a stage needs of a document. */
export interface Undoable {
  saving: 'saved' | 'saving' | 'unsaved';
  undoLabel: string | undefined;
  redoLabel: string | undefined;
  undo(): Promise<void>;
  redo(): Promise<void>;
  saveAgain(): Promise<void>;
}
