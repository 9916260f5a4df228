<script setup lang="ts">
import { Circle, Diff, Fingerprint, Image, Scissors, SquareDot } from '@lucide/vue';
import { computed } from 'vue';
import type { Version } from '@zesty-crow/server/contract';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import { useView } from '../../shot/view.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import CompareChoice from './CompareChoice.vue';
import ViewChoice from './ViewChoice.vue';

/** One bar of one row, as high in every way of looking: what is seen, with what it is compared, how it is shown. */
defineProps<{ zoom: number; versions: readonly Version[] }>();
defineEmits<{ fit: []; actual: [] }>();
const view = useView();
const { tip } = useKeyChoices();

const LOOKS = [
  { value: 'picture', label: 'Picture', tip: 'Picture', key: '1', icon: Image },
  { value: 'ids', label: 'IDs', tip: 'ID map', key: '2', icon: Fingerprint },
  { value: 'mask', label: 'Mask', tip: 'Mask of the open change', key: '3', icon: Circle },
  { value: 'cutout', label: 'Cut-out', tip: 'Cut-out', key: '4', icon: Scissors },
  { value: 'difference', label: 'Difference', tip: 'Difference from before', key: '5', icon: Diff },
] as const;
const looks = computed(() => LOOKS.map((l) => ({ ...l, title: tip(l.tip, l.key) })));
</script>

<template>
  <div class="room-bar view-bar" role="toolbar" aria-label="Ways to look">
    <SegmentChoice v-model="view.mode" label="See" :options="looks" />
    <CompareChoice :versions="versions" />
    <button
      class="plain-button room-button alone"
      type="button"
      :class="{ on: view.alone }"
      :aria-pressed="view.alone"
      aria-label="Alone"
      :title="tip('Only the open change, without the others', 'A')"
      @click="view.alone = !view.alone"
    >
      <SquareDot class="icon" :size="16" :stroke-width="1.6" /><span class="words">Alone</span>
    </button>
    <ViewChoice />
    <span class="space" />
    <span class="zooms">
      <button
        class="plain-button room-button"
        type="button"
        :title="tip('Whole picture', 'F')"
        @click="$emit('fit')"
      >
        Fit
      </button>
      <button
        class="plain-button room-button zoom"
        type="button"
        :title="tip('One to one', 'H')"
        aria-label="One to one"
        @click="$emit('actual')"
      >
        {{ zoom < 10 ? zoom.toFixed(1) : Math.round(zoom) }} %
      </button>
    </span>
  </div>
</template>

<style scoped>
.view-bar {
  container-type: inline-size;
  gap: 6px;
  height: 36px;
  padding: 0 8px;
  border-bottom: 1px solid var(--room-line);
}
.zoom {
  min-width: 50px;
}
.zooms {
  display: flex;
  flex: none;
}
.space {
  flex: 1;
}
.alone .icon {
  display: none;
}
@container (max-width: 630px) {
  .alone .icon {
    display: block;
  }
  .alone .words {
    display: none;
  }
  .alone {
    padding-inline: 6px;
  }
}
</style>
