<script setup lang="ts">
import { ElColorPicker, ElInput, ElInputNumber } from 'element-plus';
import { Pipette } from '@lucide/vue';
import { colourWithin, type ColourValue, type Field } from '@zesty-crow/core/fields';
import { computed, ref, watch } from 'vue';
import { colourOf, hexOf } from './colour-text.ts';
import ColourFromFile from './ColourFromFile.vue';

/** A colour: typed as it is written anywhere, chosen, taken from the picture, or as three scene-linear numbers. */
const props = defineProps<{
  field: Extract<Field, { kind: 'colour' }>;
  modelValue: ColourValue;
  /** It can be taken from the picture, and is about to be. */
  taking?: boolean | undefined;
}>();
const emit = defineEmits<{ choose: [value: ColourValue]; take: [] }>();

/** None is chosen yet. */
const none = computed(() => props.field.least !== undefined && props.modelValue.every((v) => v === 0));
const hex = computed(() => hexOf(props.modelValue));
const wrong = ref(false);
/** What stands in the text field: what is being typed, or the colour. */
const draft = ref('');
const settle = () => (draft.value = none.value ? '' : (hex.value ?? 'brighter than white'));
watch(() => props.modelValue, settle, { immediate: true });

const choose = (value: ColourValue) => emit('choose', colourWithin(props.field, value));
function typed(text: string): void {
  const found = colourOf(text);
  wrong.value = !found && text.trim() !== '';
  if (found) choose(found);
}
const chooseOf = (channel: number, value: number | null | undefined) =>
  choose(props.modelValue.map((v, k) => (k === channel ? (value ?? v) : v)) as unknown as ColourValue);
function picked(text: string | null): void {
  const found = text === null ? undefined : colourOf(text);
  if (found) choose(found);
}
</script>

<template>
  <div class="colour">
    <ElColorPicker
      :model-value="none ? null : (hex ?? '#ffffff')"
      size="small"
      color-format="hex"
      :aria-label="field.label"
      @change="picked"
    />
    <ElInput
      v-model="draft"
      class="text"
      :class="{ wrong }"
      size="small"
      placeholder="#hex, lab(…), lch(…)"
      :aria-label="`${field.label} as text`"
      @change="typed"
      @keydown.esc="settle"
    />
    <button
      v-if="taking !== undefined"
      class="plain-button take"
      type="button"
      :class="{ on: taking }"
      :aria-pressed="taking"
      :aria-label="`Take ${field.label.toLowerCase()} from the picture`"
      title="Take it from the picture: click there"
      @click="$emit('take')"
    >
      <Pipette :size="16" :stroke-width="1.6" />
    </button>
    <ColourFromFile :label="field.label" @choose="choose" />
  </div>
  <p v-if="wrong" class="paper-hint" role="alert">
    Not a colour. Write #c0392b, 192 57 43, lab(52 48 31) or lch(52 57 33).
  </p>
  <div class="numbers">
    <ElInputNumber
      v-for="(name, k) in ['red', 'green', 'blue']"
      :key="name"
      :model-value="modelValue[k]"
      :min="0"
      :max="field.max"
      :step="0.01"
      :precision="4"
      :controls="false"
      size="small"
      :title="`${name}, scene-linear`"
      :aria-label="`${field.label}, ${name}`"
      @change="chooseOf(k, $event)"
    />
  </div>
</template>

<style scoped>
.colour,
.numbers {
  display: flex;
  align-items: center;
  gap: 6px;
}
.numbers {
  margin-top: 4px;
}
.text {
  flex: 1;
}
.numbers :deep(.el-input-number) {
  flex: 1;
  width: auto;
  min-width: 0;
}
.take {
  display: grid;
  padding: 4px;
}
.take.on {
  background: var(--crow);
  color: var(--paper);
}
p {
  margin: 4px 0 0;
}
</style>
