<script setup lang="ts">
import { ElColorPicker, ElInput, ElInputNumber, ElOption, ElSelect, ElSwitch } from 'element-plus';
import type { ColourValue, Field, FieldValue } from '@zesty-crow/core/fields';
import { linearToSrgb, srgbToLinear } from '@zesty-crow/core/colour';
import { computed } from 'vue';
import NumberControl from './NumberControl.vue';

/** Draws a field by its kind. Who a field means is chosen in Prepare, points by an editor of their own. */
const props = withDefaults(
  defineProps<{
    field: Field;
    modelValue: FieldValue | undefined;
    /** Names of the passes that a field may take. */
    passes?: readonly string[];
    /** Numbers have a slider; settings that are typed once need none. */
    slider?: boolean;
  }>(),
  { slider: true, passes: () => [] },
);
const emit = defineEmits<{
  /** While the value moves. */
  'update:modelValue': [value: FieldValue];
  /** When it has come to rest: one step of the history. */
  commit: [];
  moving: [on: boolean];
}>();

function choose(value: FieldValue): void {
  emit('update:modelValue', value);
  emit('commit');
}
/** Three numbers with one of them set. */
function chooseOf(channel: number, value: number | null | undefined): void {
  const now = (props.modelValue ?? props.field.neutral) as ColourValue;
  choose(now.map((v, k) => (k === channel ? (value ?? v) : v)) as unknown as ColourValue);
}
function reset(): void {
  if (props.field.neutral !== undefined) choose(props.field.neutral);
}
/** Swatches are shown and chosen in display values; what is stored is scene-linear. */
const swatch = computed(() => {
  const bytes = ((props.modelValue ?? [0, 0, 0]) as ColourValue).map((v) =>
    Math.round(255 * Math.min(1, Math.max(0, linearToSrgb(v)))),
  );
  return `rgb(${bytes.join(', ')})`;
});
function chooseSwatch(text: string | null): void {
  const bytes = (text?.match(/\d+/g) ?? []).slice(0, 3).map(Number);
  if (bytes.length === 3) choose(bytes.map((b) => srgbToLinear(b / 255)) as unknown as ColourValue);
}
</script>

<template>
  <NumberControl
    v-if="field.kind === 'number' && slider"
    :field="field"
    :model-value="modelValue as number"
    @update:model-value="$emit('update:modelValue', $event)"
    @moving="$emit('moving', $event)"
    @commit="$emit('commit')"
  />
  <div v-else class="line" :class="{ tall: field.kind === 'colour' || field.kind === 'rgb' }">
    <span title="Double-click to reset" @dblclick="reset">{{ field.label }}</span>
    <span v-if="field.kind === 'number'" class="number" title="Double-click to reset">
      <ElInputNumber
        :model-value="modelValue as number"
        :min="field.min"
        :max="field.max"
        :step="field.step"
        :controls="false"
        size="small"
        :aria-label="field.label"
        @change="choose($event ?? field.neutral)"
        @dblclick="choose(field.neutral)"
      />
      <small>{{ field.unit }}</small>
    </span>
    <ElSelect
      v-else-if="field.kind === 'choice'"
      :model-value="modelValue as string"
      size="small"
      :aria-label="field.label"
      @update:model-value="choose($event as string)"
    >
      <ElOption v-for="o in field.options" :key="o.value" :value="o.value" :label="o.label" />
    </ElSelect>
    <ElInput
      v-else-if="field.kind === 'text'"
      :model-value="modelValue as string"
      size="small"
      :placeholder="field.hint"
      :aria-label="field.label"
      @change="choose($event)"
    />
    <ElSwitch
      v-else-if="field.kind === 'switch'"
      class="paper-switch"
      :model-value="modelValue === true"
      size="small"
      :aria-label="field.label"
      @update:model-value="choose($event === true)"
    />
    <ElSelect
      v-else-if="field.kind === 'pass'"
      :model-value="(modelValue as string) || undefined"
      size="small"
      placeholder="None"
      clearable
      :aria-label="field.label"
      @update:model-value="choose(($event as string | undefined) ?? '')"
    >
      <ElOption v-for="p in passes" :key="p" :value="p" :label="p" />
    </ElSelect>
    <span v-else-if="field.kind === 'colour' || field.kind === 'rgb'" class="channels">
      <ElColorPicker
        v-if="field.kind === 'colour'"
        :model-value="swatch"
        size="small"
        color-format="rgb"
        :aria-label="field.label"
        @change="chooseSwatch"
      />
      <ElInputNumber
        v-for="(name, k) in ['red', 'green', 'blue']"
        :key="name"
        :model-value="(modelValue as ColourValue)[k]"
        :min="field.kind === 'rgb' ? field.min : 0"
        :max="field.max"
        :step="field.kind === 'rgb' ? field.step : 0.01"
        :controls="false"
        size="small"
        :title="`${name}, scene-linear`"
        :aria-label="`${field.label}, ${name}`"
        @change="chooseOf(k, $event)"
      />
    </span>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(76px, 34%) minmax(0, 1fr);
  align-items: center;
  gap: 10px;
  min-height: 30px;
}
.number {
  display: flex;
  align-items: center;
  gap: 6px;
}
.number :deep(.el-input-number) {
  width: 74px;
}
.line.tall {
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  padding: 3px 0 5px;
}
.channels {
  display: flex;
  align-items: center;
  gap: 4px;
}
.channels :deep(.el-input-number) {
  flex: 1;
  width: auto;
  min-width: 0;
}
small {
  color: var(--ink-quiet);
}
</style>
