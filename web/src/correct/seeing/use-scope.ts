import { watchDebounced, watchThrottled } from '@vueuse/core';
import { computed, shallowRef, type Ref } from 'vue';
import { scopeOf, SCOPES, type Counts } from '@zesty-crow/core/scopes';
import type { Probe, SamplePlace } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';

/** Whose colours a scope tells of. */
export type ScopePlace = 'frame' | 'mask' | 'pointer';

/** Pixels around the pointer that are looked at. */
const AROUND = 33;
/** Pixels that are counted in a few milliseconds, while values move, and once they rest. */
const FEW = 24_000;
const MANY = 400_000;
const REST = 350;

/** A scope of the picture as it is now: counted closely once it rests, and from few pixels while it moves. */
export function useScope(name: Ref<string>, where: Ref<ScopePlace>, probe: Ref<Probe | undefined>) {
  const picture = usePicture();
  const changes = useChanges();
  const scope = computed(() => scopeOf(name.value) ?? SCOPES[0]!);
  const place = computed((): 'frame' | SamplePlace | undefined => {
    if (where.value === 'frame') return 'frame';
    if (where.value === 'mask')
      return changes.openId === undefined ? undefined : { changeId: changes.openId };
    return probe.value && { x: probe.value.x, y: probe.value.y, side: AROUND };
  });
  const counts = shallowRef<Counts>();
  let asking = false;
  /** Of so many pixels it is to be asked next; 0 if it is not. */
  let next = 0;
  /** One question at a time; the newest is asked next, as closely as any that waits. */
  async function count(most: number): Promise<void> {
    next = Math.max(next, most);
    if (asking) return;
    const now = place.value;
    // Where nothing is pointed at, what was seen last stays.
    if (now === undefined && where.value === 'pointer') return;
    asking = true;
    const pixels = next;
    next = 0;
    counts.value = now === undefined ? undefined : await picture.scope(scope.value.name, now, pixels);
    asking = false;
    if (next > 0) void count(next);
  }
  const asked = [scope, place, () => picture.settledCount];
  watchThrottled(asked, () => void count(FEW), { throttle: 60, immediate: true, trailing: true });
  watchDebounced(asked, () => void count(MANY), { debounce: REST });
  return { scope, counts };
}
