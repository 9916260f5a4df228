<script setup lang="ts">
import { computed } from 'vue';
import { ElSwitch } from 'element-plus';
import { correctionOf } from '@zesty-crow/core/corrections';
import type { Change } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';

/** How a change meets what it touches at its edge: on the own part of each pixel, or mixed by coverage. */
const props = defineProps<{ change: Change }>();
const changes = useChanges();

const area = computed(() =>
  props.change.corrections.some((c) => c.on && correctionOf(c.kind)?.works === 'area'),
);
/** Why edges are mixed plainly although the switch says otherwise. */
const reason = computed(() =>
  props.change.plainEdges
    ? 'Colours are mixed by coverage. What lies behind an edge is corrected a little, too.'
    : area.value
      ? 'Mixed by coverage here: a correction that reads its neighbours needs whole pixels.'
      : 'Only the own part of each edge pixel is corrected.',
);
</script>

<template>
  <div class="mixing">
    <label :title="reason">
      <ElSwitch
        size="small"
        :model-value="change.plainEdges"
        aria-label="Plain edges"
        @update:model-value="changes.setPlainEdges(change, Boolean($event))"
      />
      Plain edges
    </label>
  </div>
</template>

<style scoped>
.mixing {
  margin-top: 2px;
}
label {
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
