<script setup lang="ts">
import type { NumberField } from '@zesty-crow/core/fields';
import NumberControl from '../../fields/NumberControl.vue';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';

/** Strokes that add to the mask, or take away from it, after everything else. */
defineProps<{ owner: Owner }>();
const changes = useChanges();
const view = useView();

const SIZE: NumberField = {
  kind: 'number',
  key: 'size',
  label: 'Size',
  unit: '% of width',
  min: 0.05,
  max: 50,
  softMax: 12,
  step: 0.05,
  neutral: 2,
};
const SOFT: NumberField = {
  kind: 'number',
  key: 'soft',
  label: 'Softness',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  neutral: 40,
};
const WAYS = [
  { value: 'add', label: 'Add' },
  { value: 'take', label: 'Take away' },
] as const;
</script>

<template>
  <section aria-label="Brush">
    <div v-if="view.tool === 'brush'" class="settings">
      <SegmentChoice v-model="view.stroke.way" paper label="What strokes do" :options="WAYS" />
      <NumberControl
        :field="SIZE"
        :model-value="view.stroke.size"
        @update:model-value="view.stroke.size = $event"
      />
      <NumberControl
        :field="SOFT"
        :model-value="Math.round(100 * view.stroke.soft)"
        @update:model-value="view.stroke.soft = $event / 100"
      />
    </div>
    <button
      v-if="owner.brush.length"
      class="plain-button quiet-button"
      type="button"
      @click="changes.clearStrokes(owner)"
    >
      Remove {{ owner.brush.length === 1 ? '1 stroke' : `all ${owner.brush.length} strokes` }}
    </button>
  </section>
</template>
