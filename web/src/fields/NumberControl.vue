<script setup lang="ts">
import { ElInputNumber, ElSlider } from 'element-plus';
import { MoveHorizontal } from '@lucide/vue';
import { displayByte, oklabToRgb } from '@zesty-crow/core/colour';
import type { NumberField } from '@zesty-crow/core/fields';
import { useDebounceFn } from '@vueuse/core';
import { computed, ref } from 'vue';

/** A number: label, slider, the number itself and its unit. Moved by slider, arrow keys, or typed. */
const props = defineProps<{
  field: NumberField;
  modelValue: number;
  /** It can be dragged in the picture, and is about to be. */
  dragging?: boolean | undefined;
}>();
const emit = defineEmits<{
  /** While the value moves. */
  'update:modelValue': [value: number];
  /** When it has come to rest: one step of the history. */
  commit: [];
  moving: [on: boolean];
  /** It is to be dragged in the picture. */
  drag: [];
}>();

const usual = computed(() => (props.field.step < 1 ? 2 : 0));
/** While it is typed one more digit may be. */
const typing = ref(false);
/** Tenths of a step are shown where they are set. */
const decimals = computed(() => {
  const finer = usual.value + 1;
  const scaled = props.modelValue * 10 ** usual.value;
  return typing.value || Math.abs(scaled - Math.round(scaled)) > 1e-6 ? finer : usual.value;
});
/** A mark at the value that changes nothing. */
const marks = computed(() => ({ [props.field.neutral]: '' }));
/** Along a scale of hues each is seen where it is set. */
const track = computed(() => {
  if (props.field.scale !== 'hue') return undefined;
  const out: [number, number, number] = [0, 0, 0];
  const stops = Array.from({ length: 25 }, (_, i) => {
    const angle = (i * 15 * Math.PI) / 180;
    oklabToRgb(0.72, 0.12 * Math.cos(angle), 0.12 * Math.sin(angle), out);
    return `rgb(${out.map((v) => Math.round(displayByte(v))).join(' ')})`;
  });
  return { '--track': `linear-gradient(to right, ${stops.join(', ')})` };
});
const low = computed(() => props.field.softMin ?? props.field.min);
const high = computed(() => props.field.softMax ?? props.field.max);
const onSlider = computed(() => Math.min(high.value, Math.max(low.value, props.modelValue)));

function set(value: number | null | undefined): void {
  const { min, max, neutral } = props.field;
  const next = Math.min(max, Math.max(min, value ?? neutral));
  if (next !== props.modelValue) emit('update:modelValue', next);
}
function reset(): void {
  set(props.field.neutral);
  emit('commit');
}
function entered(value: number | null | undefined): void {
  set(value);
  emit('commit');
}
/** Entered: the keys are the stage's again. */
const leave = (e: Event) => (e.target as HTMLElement).blur();
const ARROWS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1 };
const restSoon = useDebounceFn(rest, 350);
/** Arrow keys move it by a step; with Shift ten times, with Ctrl a tenth. In the number, left and right go along it. */
function nudge(e: KeyboardEvent): void {
  const way = ARROWS[e.key];
  const inNumber = (e.target as HTMLElement).tagName === 'INPUT';
  // In the number the key is for its digits; emptied, it is reset, too.
  if (!inNumber && (e.key === 'Delete' || e.key === 'Backspace')) {
    e.preventDefault();
    e.stopPropagation();
    return reset();
  }
  if (way === undefined || e.altKey || (inNumber && /Left|Right/.test(e.key))) return;
  e.preventDefault();
  e.stopPropagation();
  const by = props.field.step * way * (e.shiftKey ? 10 : e.ctrlKey ? 0.1 : 1);
  emit('moving', true);
  set(Number((props.modelValue + by).toFixed(usual.value + 1)));
  void restSoon();
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
  <div class="control" @keydown.capture="nudge">
    <span class="label" title="Double-click to reset, or Delete on the slider" @dblclick="reset">
      {{ field.label }}
      <button
        v-if="field.inPicture && dragging !== undefined"
        class="plain-button in-picture"
        type="button"
        :class="{ on: dragging }"
        :aria-pressed="dragging"
        :aria-label="`Drag ${field.label.toLowerCase()} in the picture`"
        title="Drag it in the picture: to the right raises it"
        @click="$emit('drag')"
        @dblclick.stop
      >
        <MoveHorizontal :size="14" :stroke-width="1.6" />
      </button>
    </span>
    <ElSlider
      :model-value="onSlider"
      :min="low"
      :max="high"
      :step="field.step"
      :show-tooltip="false"
      :marks="marks"
      :aria-label="field.label"
      size="small"
      title="Double-click to reset, or Delete on the slider"
      :class="{ coloured: track }"
      :style="track"
      @input="slid"
      @change="rest"
      @dblclick="reset"
    />
    <ElInputNumber
      :model-value="modelValue"
      :min="field.min"
      :max="field.max"
      :step="field.step"
      :precision="decimals"
      :controls="false"
      size="small"
      :aria-label="`${field.label} in ${field.unit}`"
      @change="entered"
      @focus="typing = true"
      @blur="typing = false"
      @keydown.enter="leave"
    />
    <span class="unit">{{ field.unit }}</span>
  </div>
</template>

<style scoped>
.in-picture {
  display: inline-grid;
  margin-left: 4px;
  padding: 2px;
  vertical-align: -2px;
}
.in-picture.on {
  background: var(--crow);
  color: var(--paper);
}
.control {
  display: grid;
  /* The slider has a line of its own: as long as the column is wide, and never less than 140 pixels. */
  grid-template: 'label number unit' 24px 'slider slider slider' 18px / minmax(0, 1fr) 62px auto;
  align-items: center;
  gap: 0 8px;
  padding: 0 0 3px;
}
.label {
  grid-area: label;
  cursor: default;
}
.unit {
  grid-area: unit;
  min-width: 30px;
  color: var(--ink-quiet);
  font-size: 13px;
}
.control :deep(.el-input-number) {
  grid-area: number;
  width: 62px;
}
.control :deep(.el-input-number .el-input__inner) {
  text-align: right;
}
.control :deep(.el-slider) {
  grid-area: slider;
  min-width: 140px;
  /* The handle stays inside at both ends. */
  padding: 0 7px;
  height: 18px;
  --el-slider-main-bg-color: #55534c;
  --el-slider-height: 3px;
  --el-slider-button-size: 14px;
}
.control :deep(.coloured) {
  --el-slider-height: 7px;
}
.control :deep(.coloured .el-slider__runway) {
  background: var(--track);
}
.control :deep(.coloured .el-slider__bar) {
  background: none;
}
.control :deep(.el-slider__stop) {
  width: 2px;
  height: 9px;
  border-radius: 0;
  top: -3px;
  background: #8b887d;
}
</style>
