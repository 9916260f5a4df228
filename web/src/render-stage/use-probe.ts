import { useDebounceFn } from '@vueuse/core';
import { onUnmounted, shallowRef, watch, type Ref } from 'vue';
import type { ProbeFigures } from '@zesty-crow/core';
import { api } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { usePlan } from '../shot/plan.ts';
import type { Asked } from './request.ts';

/** So long after an edit a plan is tried, in milliseconds. */
const AFTER = 800;

/**
 * What a short trial of the plan told, so that estimates are those of this scene, camera and passes. Nothing until it is
 * over; the server tries a plan once.
 */
export function useProbe(shotId: string, asked: Ref<Asked>) {
  const plan = usePlan();
  const figures = shallowRef<ProbeFigures>();
  /** What decides about a frame: how many samples it gets does not. */
  const frame = () => {
    const { doneWhen: _w, samples: _s, noise: _n, minutes: _m, ...rest } = plan.plan.render;
    const passes = plan.plan.passes.map(({ kind, on, values }) => [kind, on, values]);
    return JSON.stringify([rest, passes, asked.value.request, plan.outline !== undefined]);
  };
  let wanted = '';
  async function ask(): Promise<void> {
    if (!plan.outline || plan.saving !== 'saved' || plan.errors.length > 0 || asked.value.fault) return;
    // How many pixels show some members is not known before.
    if (!['all', 'ids'].includes(asked.value.request.what)) return;
    const own = frame();
    try {
      const told = await api.probe(shotId, asked.value.request);
      if (own === frame()) figures.value = told.figures ?? undefined;
    } catch {
      // Without it estimates are those of earlier renders.
    }
  }
  const askSoon = useDebounceFn(() => void ask(), AFTER);
  watch(
    () => [frame(), plan.saving],
    ([now]) => {
      if (now !== wanted) figures.value = undefined;
      wanted = now!;
      void askSoon();
    },
    { immediate: true },
  );
  onUnmounted(listen({ shot: (id) => void (id === shotId && !figures.value && ask()) }));
  return figures;
}
