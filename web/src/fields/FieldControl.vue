<script setup lang="ts">
import { computed } from 'vue';
import { ElInput, ElInputNumber, ElOption, ElSelect, ElSwitch } from 'element-plus';
import {
  passesFor,
  type ColourValue,
  type Field,
  type FieldValue,
  type PictureValue,
  type PointsValue,
} from '@zesty-crow/core/fields';
import type { Spread } from '@zesty-crow/core';
import ColourControl from './ColourControl.vue';
import CurveControl from './CurveControl.vue';
import NumberControl from './NumberControl.vue';
import PictureControl from './PictureControl.vue';

/** Draws a field by its kind. Who a field means is chosen in Prepare, points by an editor of their own. */
const props = withDefaults(
  defineProps<{
    field: Field;
    modelValue: FieldValue | undefined;
    /** Names of the passes that a field may take. */
    passes?: readonly string[];
    /** Numbers have a slider; settings that are typed once need none. */
    slider?: boolean;
    /** A colour can be taken from the picture, and is about to be. */
    taking?: boolean | undefined;
    /** A picture is on its way. */
    sending?: boolean;
    /** A number can be dragged in the picture, and is about to be. */
    dragging?: boolean | undefined;
    /** The part's own colours along a curve. */
    spread?: readonly Spread[] | undefined;
  }>(),
  { slider: true, passes: () => [], taking: undefined, spread: undefined, dragging: undefined },
);
const emit = defineEmits<{
  /** While the value moves. */
  'update:modelValue': [value: FieldValue];
  /** When it has come to rest: one step of the history. */
  commit: [];
  moving: [on: boolean];
  /** A number is to be dragged in the picture. */
  drag: [];
  /** A picture file was chosen. */
  file: [file: File];
  /** A colour is to be taken from the picture. */
  take: [];
}>();

/** Passes by their names, those that it is meant for first. */
const offered = computed(() =>
  props.field.kind === 'pass' ? [...new Set([...passesFor(props.field, props.passes), ...props.passes])] : [],
);
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
</script>

<template>
  <NumberControl
    v-if="field.kind === 'number' && slider"
    :field="field"
    :model-value="modelValue as number"
    :dragging="dragging"
    @drag="$emit('drag')"
    @update:model-value="$emit('update:modelValue', $event)"
    @moving="$emit('moving', $event)"
    @commit="$emit('commit')"
  />
  <CurveControl
    v-else-if="field.kind === 'curve'"
    :field="field"
    :model-value="modelValue as PointsValue"
    :spread="spread"
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
      @update:model-value="$emit('update:modelValue', $event)"
      @change="$emit('commit')"
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
      <ElOption v-for="p in offered" :key="p" :value="p" :label="p" />
    </ElSelect>
    <PictureControl
      v-else-if="field.kind === 'picture'"
      :model-value="modelValue as PictureValue"
      :sending="sending === true"
      @file="$emit('file', $event)"
    />
    <ColourControl
      v-else-if="field.kind === 'colour'"
      :field="field"
      :model-value="modelValue as ColourValue"
      :taking="taking"
      @choose="choose"
      @take="$emit('take')"
    />
    <span v-else-if="field.kind === 'rgb'" class="channels">
      <ElInputNumber
        v-for="(name, k) in ['red', 'green', 'blue']"
        :key="name"
        :model-value="(modelValue as ColourValue)[k]"
        :min="field.min"
        :max="field.max"
        :step="field.step"
        :controls="false"
        size="small"
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
