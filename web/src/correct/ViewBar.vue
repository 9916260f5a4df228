<script setup lang="ts">
import { ElTooltip } from 'element-plus';
import type { Look } from '../picture/messages.ts';
import { useLook } from './look.ts';

const view = useLook();

const LOOKS: { look: Look; label: string; key: string }[] = [
  { look: 'picture', label: 'Picture', key: '1' },
  { look: 'ids', label: 'ID map', key: '2' },
  { look: 'mask', label: 'Mask', key: '3' },
  { look: 'cutout', label: 'Cut-out', key: '4' },
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
  </div>
</template>

<style scoped>
.look-bar {
  min-height: 42px;
  border-bottom: 1px solid var(--room-line);
}
</style>
