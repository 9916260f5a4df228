import type { Documents, HistoryState, HistorySteps, NamedState } from '@zesty-crow/server/contract';
import { computed, ref, shallowRef, toRaw, type Ref } from 'vue';
import { api, ServerError } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notify, notifyError } from '../server/notify.ts';
import { heldAt, mergeDocuments, sameJson, settle, type MergeConflict } from './merge.ts';
import { UnsentStore, type Unsent } from './unsent.ts';

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(toRaw(value))) as T;

/** Something that waits for the server, made on what stands before it in the queue. */
type Step<T> = { do: 'save'; label: string; body: T } | { do: 'undo' | 'redo' } | { do: 'go'; step: number };

/**
 * A document of the open shot that is edited and recorded step by step on the server, with undo and redo kept
 * there. Every step is bound to the state it was made on. If another window was faster, what waits is rebased onto what
 * that one made, change by change; what both have touched is offered side by side, and nothing is overwritten.
 */
export function useDocument<K extends keyof Documents>(
  kind: K,
  empty: () => Documents[K],
  upgrade: (stored: unknown) => unknown,
  /** Told each body before it is watched, and the one that it takes the place of: for what is not edited in place. */
  seal: (body: Documents[K], before?: Documents[K]) => Documents[K] = (body) => body,
) {
  type Body = Documents[K];
  const shotId = ref<string>();
  const body = ref(seal(empty())) as Ref<Body>;
  const undoLabel = ref<string>();
  const redoLabel = ref<string>();
  /** `unsaved` tells that the server did not take the last edit. */
  const saving = ref<'saved' | 'saving' | 'unsaved'>('saved');
  const conflicts = shallowRef<MergeConflict[]>([]);
  /** Edits that a window which is gone could not send. */
  const leftBehind = shallowRef<{ key: string; unsent: Unsent<Body> }[]>([]);

  /** The document as the server has it. */
  let confirmed: HistoryState<Body> = { revision: 0, body: empty() };
  /** The document as it is once everything in the queue is done: edits compare against it. */
  let recorded = confirmed.body;
  let queue: Step<Body>[] = [];
  let pumping: Promise<void> | undefined;
  /** The document is on its way: what is done meanwhile is sent when it is known on what. */
  let loading: Promise<HistoryState<Body>> | undefined;
  let unsent: UnsentStore<Body> | undefined;

  function labels(state: HistoryState<Body>): void {
    undoLabel.value = state.undo;
    redoLabel.value = state.redo;
  }
  function show(next: Body): void {
    body.value = seal(copy(next), body.value);
    recorded = next;
  }
  function take(state: HistoryState<Body>): void {
    confirmed = state;
    labels(state);
    show(state.body);
  }

  /** Nothing here that the server does not have. */
  const idle = () => queue.length === 0 && !isEdited();
  /** Something is being edited that is no step yet. */
  const isEdited = () => !sameJson(toRaw(body.value), recorded);

  async function load(id: string): Promise<void> {
    if (queue.length) await flush();
    // Still not sent: it stays as it is here, and is sent with the next connection.
    if (queue.length && shotId.value === id) return;
    if (queue.length || conflicts.value.length) unsent?.handOver();
    if (shotId.value !== id) {
      conflicts.value = [];
      queue = [];
      take({ revision: 0, body: empty() });
    }
    shotId.value = id;
    unsent = new UnsentStore(kind, id, upgrade);
    const request = (loading = api.document(kind, id));
    try {
      const state = await request;
      if (loading !== request) return;
      if (idle()) take(state);
      // Someone was quicker than the answer: what they did is put on top of it.
      else rebase(state, false);
    } finally {
      if (loading === request) loading = undefined;
    }
    await flush();
    takeLeft(await unsent.left());
  }

  /** What windows that are gone have left: edits are offered, choices that nobody made are asked for again. */
  function takeLeft(found: { key: string; unsent: Unsent<Body> }[]): void {
    const offered: { key: string; unsent: Unsent<Body> }[] = [];
    const asked = [...conflicts.value];
    for (const { key, unsent: left } of found) {
      const { unsettled = [], ...rest } = left;
      for (const place of unsettled) {
        const [mine, theirs] = [heldAt(left.body, place), heldAt(body.value, place)];
        if (!sameJson(mine, theirs)) asked.push({ place, mine, theirs: copy({ theirs }).theirs });
      }
      const own = unsettled.reduce((b, place) => settle(b, { place }, heldAt(left.base, place)), left.body);
      if (unsettled.length === 0 || !sameJson(own, left.base))
        offered.push({ key, unsent: { ...rest, body: own } });
      // From here on this window keeps the choices.
      if (unsettled.length > 0) {
        if (offered.at(-1)?.key === key) unsent?.replace(key, { ...rest, body: own });
        else unsent?.forget(key);
      }
    }
    leftBehind.value = offered;
    conflicts.value = asked;
    keepUnsent();
  }

  /** Keeps in the browser what the server does not have yet, and what it has not because nobody has chosen. */
  function keepUnsent(): void {
    const saves = queue.flatMap((s) => (s.do === 'save' ? [s] : []));
    const last = saves.at(-1);
    const waiting = conflicts.value;
    if (!last && waiting.length === 0) return unsent?.clear();
    unsent?.keep({
      base: confirmed.body,
      body: waiting.reduce((b, c) => settle(b, c, c.mine), last?.body ?? confirmed.body),
      label: saves.length > 1 ? `${saves.length} edits` : (last?.label ?? 'An edit'),
      at: Date.now(),
      ...(waiting.length ? { unsettled: waiting.map((c) => c.place) } : {}),
    });
  }

  /**
   * The state is another one than what waits was made on: puts what waits on top of it.
   * @param own it is what this window's undo or redo has brought; later edits are meant to change that
   */
  function rebase(theirs: HistoryState<Body>, own: boolean): void {
    const found: MergeConflict[] = [];
    const put = (from: Body, to: Body, onto: Body): Body => {
      const { body: merged, conflicts: more } = mergeDocuments(from, to, onto);
      if (own) return more.reduce((b, c) => settle(b, c, c.mine), merged);
      found.push(...more);
      return merged;
    };
    let before = confirmed.body;
    let after = theirs.body;
    const next: Step<Body>[] = [];
    let dropped = false;
    for (const step of queue) {
      // What undo meant here is not the last step any more.
      if (step.do !== 'save') {
        if (own) next.push(step);
        else dropped = true;
        continue;
      }
      const merged = put(before, step.body, after);
      before = step.body;
      if (sameJson(merged, after)) continue;
      after = merged;
      next.push({ ...step, body: merged });
    }
    // What is being edited right now, and no step yet.
    const local = put(before, copy(body.value), after);
    confirmed = theirs;
    labels(theirs);
    queue = next;
    body.value = seal(copy(local), body.value);
    recorded = after;
    const places = new Map([...conflicts.value, ...found].map((c) => [c.place.join('\0'), c]));
    conflicts.value = [...places.values()];
    keepUnsent();
    if (dropped)
      notify('Nothing was undone or redone: another window has edited since. Its edit is shown now.');
  }

  async function send(step: Step<Body>, id: string): Promise<HistoryState<Body>> {
    if (step.do === 'save')
      return api.saveDocument(kind, id, confirmed.revision, step.label.slice(0, 200), step.body);
    return step.do === 'go'
      ? api.goInDocument(kind, id, confirmed.revision, step.step)
      : api.moveDocument(kind, step.do, id, confirmed.revision);
  }

  /** Sends what waits, one step after another, until nothing does or the server cannot be reached. */
  async function pump(): Promise<void> {
    if (loading) await loading.catch(() => undefined);
    const id = shotId.value;
    while (id && queue.length && shotId.value === id) {
      saving.value = 'saving';
      const step = queue[0]!;
      try {
        const state = await send(step, id);
        if (shotId.value !== id) return;
        queue.shift();
        if (step.do === 'save') {
          confirmed = state;
          labels(state);
        } else rebase(state, true);
      } catch (error) {
        if (shotId.value !== id) return;
        const current =
          error instanceof ServerError
            ? (error.body['current'] as HistoryState<Body> | undefined)
            : undefined;
        if (current) rebase(current, false);
        else if (error instanceof ServerError && error.status >= 400 && error.status < 500) {
          // It will never be taken: what the server has is shown again.
          queue = [];
          take(confirmed);
          notifyError(error);
        } else {
          saving.value = 'unsaved';
          keepUnsent();
          notifyError(error);
          return;
        }
      }
      keepUnsent();
    }
    saving.value = 'saved';
  }
  function flush(): Promise<void> {
    return (pumping ??= pump().finally(() => (pumping = undefined)));
  }
  /** Puts a step into the queue; resolves when it was sent, or could not be. */
  async function push(step: Step<Body>): Promise<void> {
    queue.push(step);
    keepUnsent();
    // While the server is away, steps gather; the next connection sends them.
    while (pumping) await pumping;
    await flush();
  }

  /** Records the document as it is now as one step of the history. */
  async function commit(label: string): Promise<void> {
    if (!isEdited()) return pumping;
    recorded = copy(body.value);
    await push({ do: 'save', label, body: recorded });
  }
  /** An edit that has not become a step yet would be lost by going back: it becomes one first. */
  async function move(step: Exclude<Step<Body>, { do: 'save' }>): Promise<void> {
    if (isEdited()) void commit('Edit');
    await push(step);
  }
  const undo = () => move({ do: 'undo' });
  const redo = () => move({ do: 'redo' });
  /** To any step of its history, as undo and redo would get there. */
  const goTo = (step: number) => move({ do: 'go', step });
  const steps = (before?: number) => api.stepsOfDocument(kind, shotId.value!, before);

  // ---- states under names

  const states = () => api.states(kind, shotId.value!);
  const keepState = (name: string) => api.keepState(kind, shotId.value!, name, copy(body.value));
  const dropState = (id: string) => api.dropState(kind, shotId.value!, id);
  /** Makes the document what it was then, as one more step that can be undone. */
  async function backToState({ id, name }: NamedState): Promise<void> {
    body.value = seal(await api.state(kind, shotId.value!, id), body.value);
    await commit(`Back to “${name}”`);
  }
  const saveAgain = () => flush();

  /** Puts this window's side of a conflict into the document, or leaves it as it is. */
  async function settleConflict(conflict: MergeConflict, side: 'mine' | 'theirs'): Promise<void> {
    conflicts.value = conflicts.value.filter((c) => c !== conflict);
    keepUnsent();
    if (side === 'theirs') return;
    body.value = seal(settle(copy(body.value), conflict, conflict.mine), body.value);
    await commit('Keep the edit of this window');
  }

  /** Takes up or drops edits that were left behind. */
  async function settleLeft(key: string, bring: boolean): Promise<void> {
    const found = leftBehind.value.find((l) => l.key === key);
    leftBehind.value = leftBehind.value.filter((l) => l.key !== key);
    if (found && bring) {
      const merged = mergeDocuments(found.unsent.base, found.unsent.body, copy(body.value));
      body.value = seal(merged.body, body.value);
      conflicts.value = [...conflicts.value, ...merged.conflicts];
      await commit(`Bring back: ${found.unsent.label}`);
    }
    unsent?.forget(key);
  }

  // Another window has edited it: follow, unless there is something here that it does not have.
  async function follow(id: string): Promise<void> {
    if (id !== shotId.value) return;
    await pumping;
    if (id !== shotId.value || !idle()) return;
    const state = await api.document(kind, id).catch(() => undefined);
    if (state && id === shotId.value && state.revision > confirmed.revision && idle()) take(state);
  }
  // What is not at the server, or waits for a choice, is worth a question before the page goes.
  globalThis.addEventListener?.('beforeunload', (event) => {
    if (queue.length || conflicts.value.length) event.preventDefault();
  });
  listen({
    shot: (id) => void follow(id),
    connected: () => {
      if (!shotId.value) return;
      void (queue.length ? flush() : follow(shotId.value));
    },
  });

  return {
    shotId,
    body,
    saving,
    undoLabel,
    redoLabel,
    conflicts,
    leftBehind,
    canUndo: computed(() => undoLabel.value !== undefined),
    canRedo: computed(() => redoLabel.value !== undefined),
    load,
    commit,
    undo,
    redo,
    goTo,
    steps,
    states,
    keepState,
    dropState,
    backToState,
    saveAgain,
    settleConflict,
    settleLeft,
  };
}

/** What the bar over a stage needs of a document. */
export interface Undoable {
  saving: 'saved' | 'saving' | 'unsaved';
  undoLabel: string | undefined;
  redoLabel: string | undefined;
  conflicts: MergeConflict[];
  leftBehind: { key: string; unsent: { label: string; at: number } }[];
  undo(): Promise<void>;
  redo(): Promise<void>;
  goTo(step: number): Promise<void>;
  steps(before?: number): Promise<HistorySteps>;
  states(): Promise<NamedState[]>;
  keepState(name: string): Promise<NamedState>;
  dropState(id: string): Promise<void>;
  backToState(state: NamedState): Promise<void>;
  saveAgain(): Promise<void>;
  settleConflict(conflict: MergeConflict, side: 'mine' | 'theirs'): Promise<void>;
  settleLeft(key: string, bring: boolean): Promise<void>;
}
