<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { computed } from 'vue';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { layerLabel } from '../layer-label.ts';
import { useLook } from '../../shot/look.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import { useScopes } from '../seeing/scopes-open.ts';
import PixelValues from './PixelValues.vue';
import ToolChoice from './ToolChoice.vue';

defineProps<{ probe: Probe | undefined }>();
const view = useLook();
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
    <button
      class="plain-button room-button"
      type="button"
      :class="{ on: scopes.open.value }"
      :aria-pressed="scopes.open.value"
      :title="tip('Scopes and samples under the picture', 'J')"
      @click="scopes.flip()"
    >
      Scopes
    </button>
    <span class="space" />
    <PixelValues :probe="probe" />
  </div>
</template>

<style scoped>
.pick-bar {
  container-type: inline-size;
  min-height: 32px;
  border-top: 1px solid var(--room-line);
}
.lead {
  margin-right: 6px;
  color: var(--on-room-quiet);
}
.layers {
  flex: 0 1 170px;
  width: 170px;
  min-width: 84px;
}
.space {
  flex: 1;
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
