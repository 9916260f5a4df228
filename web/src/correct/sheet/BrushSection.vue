<script setup lang="ts">
import { ElButton } from 'element-plus';
import { Brush } from '@lucide/vue';
import type { NumberField } from '@zesty-crow/core/fields';
import NumberControl from '../../fields/NumberControl.vue';
import { useChanges, type Owner } from '../../shot/changes/changes.ts';
import { useLook } from '../../shot/look.ts';

/** Strokes that add to the mask, or take away from it, after everything else. */
defineProps<{ owner: Owner }>();
const changes = useChanges();
const view = useLook();

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
const WAYS = { add: 'Add', take: 'Take away' } as const;
const flip = () => (view.tool = view.tool === 'brush' ? 'pick' : 'brush');
</script>

<template>
  <section aria-label="Brush">
    <h3 class="paper-heading">Brush</h3>
    <p v-if="owner.brush.length === 0 && view.tool !== 'brush'" class="paper-hint">
      For the last few pixels.
    </p>
    <div v-if="view.tool === 'brush'" class="settings">
      <div role="radiogroup" aria-label="What strokes do" class="ways">
        <button
          v-for="(label, way) in WAYS"
          :key="way"
          class="plain-button"
          type="button"
          role="radio"
          :aria-checked="view.stroke.way === way"
          @click="view.stroke.way = way"
        >
          {{ label }}
        </button>
      </div>
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
    <div class="acts">
      <ElButton size="small" :icon="Brush" @click="flip">
        {{ view.tool === 'brush' ? 'Stop drawing' : 'Draw on the mask' }}
      </ElButton>
      <button
        v-if="owner.brush.length"
        class="plain-button clear"
        type="button"
        @click="changes.clearStrokes(owner)"
      >
        Remove {{ owner.brush.length === 1 ? '1 stroke' : `all ${owner.brush.length} strokes` }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.ways {
  display: flex;
  gap: 4px;
  margin-bottom: 4px;
}
.ways button {
  padding: 2px 10px;
  border: 1px solid var(--paper-line);
}
.ways button[aria-checked='true'] {
  background: var(--ink);
  color: var(--paper);
}
.settings {
  margin-bottom: 8px;
}
.acts {
  display: flex;
  align-items: center;
  gap: 12px;
}
.clear {
  color: var(--ink-quiet);
  text-decoration: underline;
  font-size: 13px;
}
</style>
