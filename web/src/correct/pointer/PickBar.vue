<script setup lang="ts">
import { ElOption, ElSelect, ElTooltip } from 'element-plus';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { layerLabel } from '../layer-label.ts';
import { useLook } from '../../shot/look.ts';
import PixelValues from './PixelValues.vue';
import ToolChoice from './ToolChoice.vue';

defineProps<{ probe: Probe | undefined }>();
const view = useLook();
const picture = usePicture();
</script>

<template>
  <div class="room-bar pick-bar" role="toolbar" aria-label="Picking">
    <ToolChoice />
    <div v-if="picture.cast.length" class="group kinds" role="radiogroup" aria-label="What a click takes">
      <span class="lead">A click takes from</span>
      <ElSelect
        v-if="picture.cast.length > 3"
        v-model="view.layer"
        size="small"
        class="layers"
        aria-label="What a click takes"
        title="Next kind of ID: key X. Next ID under the pointer: key N"
      >
        <ElOption v-for="l in picture.cast" :key="l.name" :value="l.name" :label="layerLabel(l.name)" />
      </ElSelect>
      <ElTooltip
        v-for="l in picture.cast.length > 3 ? [] : picture.cast"
        :key="l.name"
        :content="`${l.members.length} members. Next kind of ID: key X. Next ID under the pointer: key N`"
        :show-after="500"
      >
        <button
          class="plain-button room-button cut"
          type="button"
          role="radio"
          :class="{ on: view.layer === l.name }"
          :aria-checked="view.layer === l.name"
          @click="view.layer = l.name"
        >
          {{ layerLabel(l.name) }}
        </button>
      </ElTooltip>
    </div>
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
