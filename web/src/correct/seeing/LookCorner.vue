<script setup lang="ts">
import { ElInputNumber } from 'element-plus';
import { computed } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import { usePicture } from '../../picture/picture.ts';
import { useView } from '../../shot/view.ts';
import CutOutGrounds from './CutOutGrounds.vue';

/** What belongs to one way of looking, in a corner: below the picture if there is room, over it if there is none. */
const props = defineProps<{
  /** Where the picture lies in the stage, in screen pixels. */
  placed: Area | undefined;
  /** Height of the stage that scopes leave. */
  height: number;
}>();
const view = useView();
const picture = usePicture();
/** Its own height with a distance. */
const OWN = 38;
const top = computed(() => Math.max(4, Math.min((props.placed?.y1 ?? 0) + 6, props.height - OWN)));
const left = computed(() => Math.max(8, props.placed?.x0 ?? 8));
const marked = computed(() => view.warnings.reduce((n, name) => n + (picture.warnings[name] ?? 0), 0));
const warned = computed(() => view.warnings.length > 0 && view.mode === 'picture');
</script>

<template>
  <div
    v-if="view.mode === 'difference' || view.mode === 'cutout' || warned"
    class="corner"
    role="group"
    aria-label="Settings of this view"
    :style="{ top: `${top}px`, left: `${left}px` }"
  >
    <label v-if="view.mode === 'difference'" title="How many times as large differences are shown">
      <span>times</span>
      <ElInputNumber
        v-model="view.gain"
        size="small"
        :min="0.1"
        :max="1000"
        :step="1"
        controls-position="right"
        aria-label="Gain of differences"
      />
    </label>
    <CutOutGrounds v-if="view.mode === 'cutout'" />
    <span v-if="warned" class="marked" role="status">
      {{ marked === 1 ? '1 pixel is' : `${marked.toLocaleString('en')} pixels are` }} marked
    </span>
  </div>
</template>

<style scoped>
.corner {
  position: absolute;
  z-index: 2;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 3px 8px;
  background: var(--room-deep);
  color: var(--on-room);
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
label :deep(.el-input-number) {
  width: 84px;
}
.marked {
  min-height: 24px;
  line-height: 24px;
}
</style>
