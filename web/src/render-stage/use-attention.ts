import { useDebounceFn } from '@vueuse/core';
import { ref, watch, type Ref } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import type { RenderAttention, RenderJob } from '@zesty-crow/server/contract';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { wholeArea } from './looked-at.ts';

/** Not told more often than that, in milliseconds. */
const TELL_AFTER = 150;

/** What one looks at of a frame while it is rendered: a place, a pass in place of the picture. The running job is told. */
export function useAttention(job: Ref<RenderJob | undefined>) {
  const area = ref<Area>();
  /** Id of the pass; empty for the picture. */
  const pass = ref('');
  const tell = useDebounceFn(() => {
    const { value } = job;
    if (value?.state !== 'running') return;
    const wanted: RenderAttention = {
      ...(area.value ? { area: wholeArea(area.value) } : {}),
      ...(pass.value ? { pass: pass.value } : {}),
    };
    api.attend(value.id, wanted).catch(notifyError);
  }, TELL_AFTER);
  watch([area, pass], () => void tell());
  // The next frame of a sequence is looked at in the same way.
  watch(
    () => [job.value?.id, job.value?.state],
    () => {
      if (area.value || pass.value) void tell();
    },
  );
  return { area, pass };
}
