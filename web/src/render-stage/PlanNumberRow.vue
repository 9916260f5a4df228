<script setup lang="ts">
import { ElInputNumber } from 'element-plus';
import { computed } from 'vue';
import { DEFAULT_RENDER } from '@zesty-crow/core';
import { usePlan } from '../shot/plan.ts';
import type { PlanNumber } from './plan-number.ts';

const props = defineProps<{ number: PlanNumber }>();
const plan = usePlan();

const scale = computed(() => (props.number.percent ? 100 : 1));
const shown = computed(() => Math.round(plan.plan.render[props.number.key] * scale.value * 1e6) / 1e6);

function set(value: number | null | undefined): void {
  const { key, label, min, max, step, percent } = props.number;
  const wanted = value ?? Math.max(min, DEFAULT_RENDER[key] * scale.value);
  const next = Math.min(max, Math.max(min, step >= 1 && !percent ? Math.round(wanted) : wanted));
  plan.plan.render[key] = next / scale.value;
  void plan.commit(`${label} ${next}`);
}
</script>

<template>
  <div class="number-row">
    <span :title="`${number.hint ?? ''} Double-click to reset.`" @dblclick="set(undefined)">{{
      number.label
    }}</span>
    <ElInputNumber
      :model-value="shown"
      :min="number.min"
      :max="number.max"
      :step="number.step"
      :controls="false"
      size="small"
      :aria-label="number.label"
      @change="set"
    />
    <small>{{ number.unit }}</small>
  </div>
</template>

<style scoped>
.number-row {
  display: grid;
  grid-template-columns: 88px 70px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
.number-row :deep(.el-input-number) {
  width: 70px;
}
small {
  color: var(--ink-quiet);
}
</style>
