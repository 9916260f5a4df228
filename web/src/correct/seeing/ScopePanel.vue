<script setup lang="ts">
import { useLocalStorage, watchDebounced, watchThrottled } from '@vueuse/core';
import { ElOption, ElSelect } from 'element-plus';
import { computed, shallowRef } from 'vue';
import type { ColourValue } from '@zesty-crow/core/fields';
import { scopeOf, SCOPES, type Counts } from '@zesty-crow/core/scopes';
import type { Probe, SamplePlace } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import FoldPanel from '../../shot/FoldPanel.vue';
import { useChanges } from '../../shot/changes/changes.ts';
import { useLook } from '../../shot/look.ts';
import PinList from './PinList.vue';
import ScopeCanvas from './ScopeCanvas.vue';

/** How the colours of the frame, of the mask, or around the pointer are spread, while they are corrected. */
const props = defineProps<{ probe: Probe | undefined }>();
const picture = usePicture();
const changes = useChanges();
const view = useLook();

/** Pixels around the pointer that are looked at. */
const AROUND = 33;
const name = useLocalStorage('scope', 'histogram');
const where = useLocalStorage<'frame' | 'mask' | 'pointer'>('scope-of', 'mask');
const open = useLocalStorage('scopes-open', false);
const scope = computed(() => scopeOf(name.value) ?? SCOPES[0]!);
const place = computed((): 'frame' | SamplePlace | undefined => {
  if (where.value === 'frame') return 'frame';
  if (where.value === 'mask') return changes.openId === undefined ? undefined : { changeId: changes.openId };
  return props.probe && { x: props.probe.x, y: props.probe.y, side: AROUND };
});
/** Pixels that are counted in a few milliseconds, while values move, and once they rest. */
const FEW = 24_000;
const MANY = 400_000;
const REST = 350;
const counts = shallowRef<Counts>();
let asking = false;
/** Of so many pixels it is to be asked next; 0 if it is not. */
let next = 0;
/** One question at a time; the newest is asked next, as closely as any that waits. */
async function look(most: number): Promise<void> {
  next = Math.max(next, most);
  if (asking || !open.value) return;
  const now = place.value;
  // Where nothing is pointed at, what was seen last stays.
  if (now === undefined && where.value === 'pointer') return;
  asking = true;
  const pixels = next;
  next = 0;
  counts.value = now === undefined ? undefined : await picture.scope(scope.value.name, now, pixels);
  asking = false;
  if (next > 0) void look(next);
}
const asked = [scope, place, () => picture.settledCount, open];
watchThrottled(asked, () => void look(FEW), { throttle: 60, immediate: true, trailing: true });
watchDebounced(asked, () => void look(MANY), { debounce: REST });

/** The swatch that the open change goes for, and where its part is. */
const marks = computed(() => {
  const { open: change } = changes;
  const swatch = change?.corrections.find((c) => c.on && c.values['swatch'])?.values['swatch'];
  const mean = change && picture.swatches[change.id]?.mean;
  return [
    ...(swatch ? [{ colour: swatch as ColourValue, label: 'the swatch' }] : []),
    ...(mean && where.value === 'mask' ? [{ colour: mean, label: 'the mean of the part' }] : []),
  ];
});
const summary = computed(() => (open.value ? '' : `${scope.value.label}${pinned.value}`));
const pinned = computed(() => (view.pins.length ? `, ${view.pins.length} pinned` : ''));
</script>

<template>
  <FoldPanel title="Scopes and samples" :summary="summary" :opened="open" @flip="open = $event">
    <div class="panel">
      <div class="choice">
        <ElSelect v-model="name" size="small" aria-label="Scope">
          <ElOption v-for="s in SCOPES" :key="s.name" :value="s.name" :label="s.label" />
        </ElSelect>
        <ElSelect v-model="where" size="small" aria-label="Of what">
          <ElOption value="mask" label="of the mask" />
          <ElOption value="frame" label="of the frame" />
          <ElOption value="pointer" label="around the pointer" />
        </ElSelect>
      </div>
      <ScopeCanvas :scope="scope" :counts="counts" :marks="marks" :title="scope.hint" />
      <p v-if="!counts">
        {{ where === 'pointer' ? 'Point at the picture.' : 'Choose a change: its mask is looked at.' }}
      </p>
      <PinList />
    </div>
  </FoldPanel>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  max-height: 46vh;
  padding: 2px 10px 10px;
  overflow-y: auto;
}
.choice {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
p {
  margin: 0;
  color: var(--on-room-quiet);
}
</style>
