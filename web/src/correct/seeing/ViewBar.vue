<script setup lang="ts">
import { ElInputNumber, ElTooltip } from 'element-plus';
import type { Look } from '../../picture/messages.ts';
import type { Version } from '@zesty-crow/server/contract';
import CutOutGrounds from './CutOutGrounds.vue';
import { useLook } from '../../shot/look.ts';
import CompareChoice from './CompareChoice.vue';
import DisplayChoice from './DisplayChoice.vue';
import WarningChoice from './WarningChoice.vue';

defineProps<{ zoom: number; versions: readonly Version[] }>();
defineEmits<{ fit: []; actual: [] }>();
const view = useLook();

const LOOKS: { look: Look; label: string; key: string }[] = [
  { look: 'picture', label: 'Picture', key: '1' },
  { look: 'ids', label: 'ID map', key: '2' },
  { look: 'mask', label: 'Mask', key: '3' },
  { look: 'cutout', label: 'Cut-out', key: '4' },
  { look: 'difference', label: 'Difference', key: '5' },
];
const TOGGLES = [
  {
    label: 'Alone',
    hint: 'Show only the open change, without the others (key A)',
    on: () => view.alone,
    flip: () => (view.alone = !view.alone),
  },
  {
    label: 'Mask beside',
    hint: 'The mask beside the picture (key M)',
    on: () => view.beside === 'mask',
    flip: () => view.flipBeside('mask'),
  },
];
</script>

<template>
  <div class="room-bar look-bar" role="toolbar" aria-label="Ways to look">
    <div class="group">
      <ElTooltip v-for="l in LOOKS" :key="l.look" :content="`${l.label} (key ${l.key})`" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: view.look === l.look }"
          :aria-pressed="view.look === l.look"
          @click="view.look = l.look"
        >
          {{ l.label }}
        </button>
      </ElTooltip>
    </div>
    <div class="group">
      <ElTooltip content="Hold to see the picture as rendered (key B)" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: view.holdBefore }"
          @pointerdown="view.holdBefore = true"
          @pointerup="view.holdBefore = false"
          @pointerleave="view.holdBefore = false"
        >
          Before
        </button>
      </ElTooltip>
      <ElTooltip content="Divide before and after (key V)" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: view.divider !== undefined }"
          :aria-pressed="view.divider !== undefined"
          @click="view.divider = view.divider === undefined ? 0.5 : undefined"
        >
          Divider
        </button>
      </ElTooltip>
      <ElTooltip content="Before beside after, at the same place (key G)" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: view.beside === 'before' }"
          :aria-pressed="view.beside === 'before'"
          @click="view.flipBeside('before')"
        >
          Side by side
        </button>
      </ElTooltip>
      <ElTooltip content="Outline what is picked (key P)" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: view.showPicks }"
          :aria-pressed="view.showPicks"
          @click="view.showPicks = !view.showPicks"
        >
          Outline
        </button>
      </ElTooltip>
    </div>
    <div class="group">
      <ElTooltip v-for="t in TOGGLES" :key="t.label" :content="t.hint" :show-after="500">
        <button
          class="plain-button room-button"
          type="button"
          :class="{ on: t.on() }"
          :aria-pressed="t.on()"
          @click="t.flip()"
        >
          {{ t.label }}
        </button>
      </ElTooltip>
    </div>
    <CutOutGrounds v-if="view.look === 'cutout'" />
    <label
      v-if="view.look === 'difference'"
      class="field"
      title="How many times as large differences are shown"
    >
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
    <CompareChoice :versions="versions" />
    <span class="space" />
    <WarningChoice />
    <DisplayChoice />
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
.look-bar {
  flex-wrap: wrap;
  row-gap: 0;
  min-height: 36px;
  border-bottom: 1px solid var(--room-line);
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
  width: 74px;
}
.space {
  flex: 1;
}
</style>
