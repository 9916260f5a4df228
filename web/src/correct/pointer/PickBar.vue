<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { ChartSpline } from '@lucide/vue';
import { computed } from 'vue';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { layerLabel } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import { useScopes } from '../seeing/scopes-open.ts';
import PixelValues from './PixelValues.vue';
import ToolChoice from './ToolChoice.vue';

defineProps<{ probe: Probe | undefined }>();
const view = useView();
const picture = usePicture();
const scopes = useScopes();
const { tip } = useKeyChoices();
const kinds = computed(() =>
  picture.cast.map((l) => ({
    value: l.name,
    label: layerLabel(l.name),
    title: tip(`${l.members.length} members. Next kind of ID`, 'X'),
  })),
);
</script>

<template>
  <div class="room-bar pick-bar" role="toolbar" aria-label="Picking">
    <ToolChoice />
    <div v-if="picture.cast.length" class="group kinds">
      <span class="lead">A click takes from</span>
      <ElSelect
        v-if="picture.cast.length > 3"
        v-model="view.layer"
        size="small"
        class="layers"
        aria-label="What a click takes"
        :title="tip('Next kind of ID', 'X')"
      >
        <ElOption v-for="l in picture.cast" :key="l.name" :value="l.name" :label="layerLabel(l.name)" />
      </ElSelect>
      <SegmentChoice v-else v-model="view.layer" label="What a click takes" :options="kinds" />
    </div>
    <span class="space" />
    <PixelValues :probe="probe" />
    <!-- At the end, where it stays while values come and go. -->
    <button
      class="plain-button room-button scopes"
      type="button"
      :class="{ on: scopes.open.value }"
      :aria-pressed="scopes.open.value"
      aria-label="Scopes"
      :title="tip('Scopes and samples under the picture', 'J')"
      @click="scopes.flip()"
    >
      <ChartSpline class="icon" :size="16" :stroke-width="1.6" /><span class="words">Scopes</span>
    </button>
  </div>
</template>

<style scoped>
.pick-bar {
  container-type: inline-size;
  gap: 8px;
  min-height: 32px;
  padding-inline: 8px;
  border-top: 1px solid var(--room-line);
}
.lead {
  margin-right: 6px;
  color: var(--on-room-quiet);
}
.layers {
  flex: 0 1 124px;
  width: 124px;
  min-width: 84px;
}
/* Tools keep their places, whatever is told beside them. */
.pick-bar > :deep(.segments) {
  flex: none;
}
.space {
  flex: 1;
}
.scopes {
  flex: none;
  min-width: 26px;
}
.scopes .icon {
  display: none;
}
@container (max-width: 540px) {
  .scopes .icon {
    display: block;
  }
  .scopes .words {
    display: none;
  }
  .scopes {
    padding-inline: 5px;
  }
}
@container (max-width: 900px) {
  .lead {
    display: none;
  }
}
.kinds {
  flex: 0 1 auto;
}
</style>
