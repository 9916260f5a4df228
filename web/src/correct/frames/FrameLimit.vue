<script setup lang="ts">
import { ElInputNumber } from 'element-plus';
import type { Change } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';

/** The frames of a sequence in which a change is applied; empty ends are open. */
const props = defineProps<{ change: Change }>();
const changes = useChanges();
const set = (end: 'first' | 'last', frame: number | null | undefined) =>
  changes.setFrames(props.change, { ...props.change.frames, [end]: frame ?? undefined });
</script>

<template>
  <p class="limit">
    <span>Frames</span>
    <ElInputNumber
      v-for="end in ['first', 'last'] as const"
      :key="end"
      :model-value="change.frames?.[end] ?? null"
      size="small"
      :step="1"
      step-strictly
      :controls="false"
      :placeholder="end === 'first' ? 'first' : 'last'"
      :aria-label="end === 'first' ? 'First frame of the change' : 'Last frame of the change'"
      @change="set(end, $event)"
    />
  </p>
</template>

<style scoped>
.limit {
  display: grid;
  grid-template-columns: auto 1fr 1fr;
  gap: 8px;
  align-items: center;
  margin: 0 0 4px;
}
.limit :deep(.el-input-number) {
  width: 100%;
}
</style>
