import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import {
  cheapestFor,
  checkPlan,
  emptyPlan,
  judgeWish,
  neutralValues,
  passKind,
  planCost,
  proposePasses,
  rosterOf,
  upgradePlan,
  type Measured,
  type ObjectSheet,
  type PassUse,
  type Roster,
} from '@zesty-crow/core';
import type { MemberPick } from '@zesty-crow/core/picks';
import { useDocument } from './document.ts';
import type { StoredScene } from '@zesty-crow/server/contract';
import { api } from '../server/api.ts';
import { listen } from '../server/events.ts';

/** Something about an object or material; undefined takes it off. */
export type SheetChange = { [K in keyof ObjectSheet]?: ObjectSheet[K] | undefined };

const newId = () => crypto.randomUUID().slice(0, 13);
const EMPTY: Roster = { objects: [], materials: [], groups: [], attributes: [], parts: [], lamps: [] };

/** The plan of the open shot with its scene, and what follows from both. */
export const usePlan = defineStore('plan', () => {
  const document = useDocument('plan', emptyPlan, upgradePlan);
  const { shotId, body: plan, commit } = document;
  const scene = shallowRef<StoredScene>();
  const measured = shallowRef<Measured[]>([]);
  const threads = ref(2);
  /** Bytes of a frame's sums that the server keeps at most. */
  const sumsLimit = ref(0);
  /** Bytes of memory that a render may take; 0 before it is known. */
  const memory = ref(0);

  const outline = computed(() => scene.value?.outline ?? undefined);
  const roster = computed<Roster>(() => (outline.value ? rosterOf(outline.value, plan.value) : EMPTY));
  const judged = computed(() => plan.value.wishes.map((w) => judgeWish(w, plan.value, roster.value)));
  const cost = computed(() => planCost(plan.value, roster.value, measured.value, threads.value));
  const findings = computed(() => (outline.value ? checkPlan(plan.value, roster.value) : []));
  const errors = computed(() => findings.value.filter((f) => f.severity === 'error'));

  async function loadScene(id: string): Promise<void> {
    const [stored, figures] = await Promise.all([api.scene(id), api.figures(id)]);
    // The same scene again would only make the view load it anew.
    if (JSON.stringify(stored) !== JSON.stringify(scene.value)) scene.value = stored;
    measured.value = figures.measured;
    threads.value = figures.threads;
    sumsLimit.value = figures.sumsLimit;
    memory.value = figures.memory;
  }
  async function load(id: string): Promise<void> {
    if (shotId.value !== id) scene.value = undefined;
    await Promise.all([document.load(id), loadScene(id)]);
  }
  listen({
    shot: (id) => void (id === shotId.value && loadScene(id).catch(() => undefined)),
  });

  /** Changes something about things of the scene in one step; what is undefined is taken off. */
  function editSheets(
    what: 'objects' | 'materials',
    sources: readonly string[],
    change: (i: number) => SheetChange,
    label: string,
  ): void {
    const list: Record<string, object> = plan.value[what];
    sources.forEach((source, i) => {
      const next = Object.entries({ ...list[source], ...change(i) }).filter(([, v]) => v !== undefined);
      // A sheet that says nothing any more is no sheet.
      if (next.length) list[source] = Object.fromEntries(next);
      else delete list[source];
    });
    void commit(label);
  }

  function addWish(words = '', who: MemberPick[] = []): void {
    plan.value.wishes.push({ id: newId(), words, who, throughGlass: false });
    void commit('New wish');
  }
  function removeWish(id: string): void {
    const gone = plan.value.wishes.find((w) => w.id === id);
    plan.value.wishes = plan.value.wishes.filter((w) => w.id !== id);
    void commit(`Delete wish “${gone?.words ?? ''}”`);
  }
  function addPass(kind: string, values: Record<string, unknown> = {}): PassUse {
    const known = passKind(kind)!;
    const defaults = neutralValues(known.fields);
    const use: PassUse = {
      id: newId(),
      kind,
      on: true,
      depth: known.group === 'ids' || kind === 'position' ? 'float' : 'half',
      values: { ...defaults, ...values },
    };
    plan.value.passes.push(use);
    void commit(`Add ${known.label.toLowerCase()}`);
    return use;
  }
  function removePass(id: string): void {
    const gone = plan.value.passes.find((p) => p.id === id);
    plan.value.passes = plan.value.passes.filter((p) => p.id !== id);
    void commit(`Remove ${gone ? (passKind(gone.kind)?.label.toLowerCase() ?? 'pass') : 'pass'}`);
  }
  /** Replaces the ID passes by those that serve all wishes with the smallest files. */
  function propose(): void {
    plan.value.passes = proposePasses(plan.value, roster.value, measured.value);
    void commit('Propose passes');
  }
  const cheapest = (wishId: string): PassUse | undefined => {
    const wish = plan.value.wishes.find((w) => w.id === wishId);
    return wish && cheapestFor(wish, plan.value, roster.value, measured.value);
  };
  function addCheapest(wishId: string): void {
    const use = cheapest(wishId);
    if (use) addPass(use.kind, use.values);
  }

  return {
    ...document,
    plan,
    scene,
    outline,
    roster,
    judged,
    cost,
    findings,
    errors,
    measured,
    sumsLimit,
    threads,
    memory,
    load,
    loadScene,
    editSheets,
    addWish,
    removeWish,
    addPass,
    removePass,
    propose,
    cheapest,
    addCheapest,
  };
});
