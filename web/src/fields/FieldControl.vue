<script setup lang="ts">
import { ElInputNumber, ElSlider } from 'element-plus';
import { computed } from 'vue';

const props = defineProps<{
  label: string;
  unit: string;
  modelValue: number;
  min: number;
  max: number;
  softMin: number;
  softMax: number;
  step: number;
  neutral: number;
}>();
const emit = defineEmits<{
  /** While the value moves. */
  'update:modelValue': [value: number];
  /** When it has come to rest: one step of the history. */
  commit: [];
  moving: [on: boolean];
}>();

const decimals = computed(() => (props.step < 1 ? 2 : 0));
/** A mark at the value that changes nothing. */
const marks = computed(() => ({ [props.neutral]: '' }));
const onSlider = computed(() => Math.min(props.softMax, Math.max(props.softMin, props.modelValue)));

function set(value: number | null | undefined): void {
  const next = Math.min(props.max, Math.max(props.min, value ?? props.neutral));
  if (next !== props.modelValue) emit('update:modelValue', next);
}
function reset(): void {
  set(props.neutral);
  emit('commit');
}
function entered(value: number | null | undefined): void {
  set(value);
  emit('commit');
}
function slid(value: number | number[]): void {
  if (typeof value !== 'number') return;
  emit('moving', true);
  set(value);
}
function rest(): void {
  emit('moving', false);
  emit('commit');
}
</script>

<template>
  <div class="control">
    <span class="label" title="Double-click to reset" @dblclick="reset">{{ label }}</span>
    <ElSlider
      :model-value="onSlider"
      :min="softMin"
      :max="softMax"
      :step="step"
      :show-tooltip="false"
      :marks="marks"
      :aria-label="label"
      size="small"
      title="Double-click to reset"
      @input="slid"
      @change="rest"
      @dblclick="reset"
    />
    <ElInputNumber
      :model-value="modelValue"
      :min="min"
      :max="max"
      :step="step"
      :precision="decimals"
      :controls="false"
      size="small"
      :aria-label="`${label} in ${unit}`"
      @change="entered"
    />
    <span class="unit">{{ unit }}</span>
  </div>
</template>

<style scoped>
.control {
  display: grid;
  grid-template-columns: 76px 1fr 58px 34px;
  align-items: center;
  gap: 10px;
  min-height: 30px;
}
.label {
  cursor: default;
}
.unit {
  color: var(--ink-quiet);
  font-size: 13px;
  margin-left: -5px;
}
.control :deep(.el-input-number) {
  width: 58px;
}
.control :deep(.el-input-number .el-input__inner) {
  text-align: right;
}
.control :deep(.el-slider) {
  --el-slider-main-bg-color: #55534c;
  --el-slider-height: 3px;
  --el-slider-button-size: 14px;
}
.control :deep(.el-slider__stop) {
  width: 2px;
  height: 9px;
  border-radius: 0;
  top: -3px;
  background: #8b887d;
}
</style>
