import { useDebounceFn } from '@vueuse/core';
import { computed, ref, watch, type Ref } from 'vue';
import type { Plan, RenderPlan } from '@zesty-crow/core';
import type { Render } from '@zesty-crow/server/contract';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { usePlan } from '../shot/plan.ts';
import { isActive } from './render-words.ts';
import type { Asked } from './request.ts';

/** So long after a change a render begins anew, in milliseconds: a number may still be typed. */
const AFTER = 400;
/** A render that has taken longer is not thrown away unasked, in milliseconds. */
const SHORT = 120_000;
/** What ends a render, and where it goes, decides nothing about its pixels. */
const NOT_SEEN: readonly (keyof RenderPlan)[] = ['doneWhen', 'samples', 'noise', 'minutes', 'first', 'last'];

const seen = (plan: Plan, asked: object | null): string =>
  JSON.stringify([
    Object.entries(plan.render)
      .filter(([key]) => !NOT_SEEN.includes(key as keyof RenderPlan))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
    asked,
  ]);

/**
 * Begins a running render anew when camera, light or a material are changed, by itself while it is young and was
 * started from this page, otherwise when one asks for it.
 */
export function useAnew(
  shotId: string,
  open: Ref<Render | undefined>,
  asked: Ref<Asked>,
  load: () => Promise<void>,
) {
  const plan = usePlan();
  const beginning = ref(false);
  const sameKind = computed(() => open.value?.request?.what === asked.value.request.what);
  /** Versions that were begun from here: only what is changed by hand on this page begins them anew by itself. */
  const begun = new Set<string>();
  /** What is set now would give other pixels than those that are being rendered. */
  const differs = computed(() => {
    const render = open.value;
    if (!render?.plan || !sameKind.value || !render.jobs.some(isActive) || asked.value.fault) return false;
    return seen(render.plan, render.request) !== seen(plan.plan, asked.value.request);
  });

  async function begin(): Promise<void> {
    const render = open.value;
    if (!render || !differs.value || plan.errors.length > 0) return;
    beginning.value = true;
    try {
      await plan.commit('Plan as rendered');
      await api.renderAnew(shotId, render.versionId, asked.value.request);
      await load();
    } catch (error) {
      notifyError(error);
    } finally {
      beginning.value = false;
    }
  }
  const isYoung = () =>
    open.value?.jobs.every((j) => !j.started || Date.now() - new Date(j.started).getTime() < SHORT) ?? false;
  const follow = useDebounceFn(() => {
    if (open.value && begun.has(open.value.versionId) && isYoung()) void begin();
  }, AFTER);
  watch(
    () => differs.value && seen(plan.plan, asked.value.request),
    (now) => {
      if (now) void follow();
    },
  );
  return { differs, beginning, begin, began: (versionId: string) => void begun.add(versionId) };
}
