<script setup lang="ts">
import { ElInputNumber, ElOption, ElSelect, ElTooltip } from 'element-plus';
import { usePicture } from '../picture/picture.ts';
import { layerLabel } from './layer-label.ts';
import { useLook } from './look.ts';

defineProps<{ zoom: number }>();
defineEmits<{ fit: []; actual: [] }>();
const view = useLook();
const picture = usePicture();
</script>

<template>
  <div class="room-bar pick-bar" role="toolbar" aria-label="Picking and view">
    <div v-if="picture.cast.length" class="group" role="radiogroup" aria-label="What a click takes">
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
    <label
      class="field"
      title="Changes how the picture is shown, not the picture. Double-click to reset."
      @dblclick="view.stops = 0"
    >
      <span>View</span>
      <ElInputNumber
        v-model="view.stops"
        size="small"
        :min="-12"
        :max="12"
        :step="0.5"
        :precision="1"
        controls-position="right"
        aria-label="View exposure in stops"
      />
      <span>stops</span>
    </label>
    <div class="group">
      <button
        class="plain-button room-button"
        type="button"
        title="Whole picture (key F)"
        @click="$emit('fit')"
      >
        Fit
      </button>
      <button
        class="plain-button room-button zoom"
        type="button"
        title="One to one (key H)"
        @click="$emit('actual')"
      >
        {{ zoom < 10 ? zoom.toFixed(1) : Math.round(zoom) }} %
      </button>
    </div>
  </div>
</template>

<style scoped>
.pick-bar {
  min-height: 36px;
  border-top: 1px solid var(--room-line);
}
.lead {
  margin-right: 6px;
  color: var(--on-room-quiet);
}
.layers {
  width: 190px;
}
.zoom {
  min-width: 52px;
}
.field {
  display: flex;
  align-items: center;
  gap: 6px;
}
.field :deep(.el-input-number) {
  width: 78px;
}
.space {
  flex: 1;
}
</style>
