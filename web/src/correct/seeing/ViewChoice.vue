<script setup lang="ts">
import { ElInputNumber, ElPopover, ElSwitch } from 'element-plus';
import { RotateCcw } from '@lucide/vue';
import { computed } from 'vue';
import { DISPLAY_TRANSFORMS } from '@zesty-crow/core/display';
import { useView } from '../../shot/view.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import DisplayChoice from './DisplayChoice.vue';
import WarningChoice from './WarningChoice.vue';

/** All that changes what the screen shows and never the picture; its button tells where that is not as usual. */
const view = useView();
const { keyOf } = useKeyChoices();

/** What is not as usual, in a few letters. */
const told = computed(() => {
  const transform = view.table
    ? view.table.title || 'table'
    : view.transform === 'srgb'
      ? ''
      : DISPLAY_TRANSFORMS.find((t) => t.name === view.transform)!.label;
  return [
    view.stops === 0 ? '' : `${view.stops > 0 ? '+' : ''}${view.stops.toFixed(1)}`,
    view.gamma === 1 ? '' : `γ ${view.gamma}`,
    transform,
    view.warnings.length ? 'warnings' : '',
    view.showPicks ? '' : 'no outline',
    view.dims ? '' : 'no dimming',
    view.tags ? '' : 'no tag',
  ]
    .filter(Boolean)
    .join(', ');
});
const SWITCHES = [
  {
    label: 'Outline of what is picked',
    key: 'P',
    on: () => view.showPicks,
    set: (on: boolean) => (view.showPicks = on),
  },
  { label: 'Dim the rest', key: '', on: () => view.dims, set: (on: boolean) => (view.dims = on) },
  {
    label: 'Tag at the pointer',
    key: '',
    on: () => view.tags,
    set: (on: boolean) => (view.tags = on),
  },
];
</script>

<template>
  <span class="view">
    <ElPopover trigger="click" placement="bottom-end" :width="330" :teleported="true">
      <template #reference>
        <button
          class="plain-button room-button named"
          type="button"
          aria-label="View"
          :class="{ on: told }"
          :title="`How the picture is shown; the picture stays as it is.${told ? ` Now: ${told}` : ''}`"
        >
          <span class="cut">View{{ told ? `: ${told}` : '' }}</span>
        </button>
      </template>
      <div class="rows">
        <label title="Double-click to reset" @dblclick="view.stops = 0">
          <span>Exposure</span>
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
        <DisplayChoice />
        <label v-for="s in SWITCHES" :key="s.label">
          <span>{{ s.label }}</span>
          <ElSwitch
            size="small"
            :model-value="s.on()"
            :aria-label="s.label"
            @update:model-value="s.set($event === true)"
          />
          <span>{{ s.key && keyOf(s.key) ? `key ${keyOf(s.key)}` : '' }}</span>
        </label>
        <WarningChoice />
      </div>
    </ElPopover>
    <button
      v-if="told"
      class="plain-button room-button reset"
      type="button"
      title="Reset the view"
      aria-label="Reset the view"
      @click="view.resetView()"
    >
      <RotateCcw :size="14" :stroke-width="1.6" />
    </button>
  </span>
</template>

<style scoped>
.view {
  display: flex;
  min-width: 0;
}
.named {
  display: block;
  max-width: 150px;
  min-width: 44px;
}
.named .cut {
  display: block;
}
.reset {
  display: grid;
  flex: none;
  padding-inline: 5px;
}
.rows {
  display: grid;
  gap: 8px;
}
label {
  display: grid;
  grid-template-columns: 1fr auto 44px;
  align-items: center;
  gap: 8px;
}
label :deep(.el-input-number) {
  width: 92px;
}
</style>
