<script setup lang="ts">
import { computed } from 'vue';
import type { DoneWhen } from '@zesty-crow/core';
import SegmentChoice from '../fields/SegmentChoice.vue';
import { usePlan } from '../shot/plan.ts';
import { CLEAN_STEPS, END_NUMBERS } from './plan-number.ts';
import PlanNumberRow from './PlanNumberRow.vue';

/** What ends a render: it is clean enough, its time is over, or it has its samples. */
const plan = usePlan();
const WAYS: { value: DoneWhen; label: string; title: string }[] = [
  { value: 'clean', label: 'Clean', title: 'Done when it is clean enough' },
  { value: 'time', label: 'Time', title: 'Done after a time' },
  { value: 'samples', label: 'Samples', title: 'Done after a number of samples' },
];
const way = computed({
  get: () => plan.plan.render.doneWhen,
  set(value) {
    plan.plan.render.doneWhen = value;
    void plan.commit(WAYS.find((w) => w.value === value)!.title);
  },
});
const steps = CLEAN_STEPS.map((s) => ({
  value: String(s.noise),
  label: s.label,
  title: `${100 * s.noise} % noise`,
}));
const step = computed({
  get: () => steps.find((s) => s.value === String(plan.plan.render.noise))?.value,
  set(value) {
    plan.plan.render.noise = Number(value);
    void plan.commit(`Noise ${100 * Number(value)} %`);
  },
});
</script>

<template>
  <div class="choice">
    <span>Done when</span>
    <SegmentChoice v-model="way" paper label="Done when" :options="WAYS" />
  </div>
  <div v-if="way === 'clean'" class="choice">
    <span>How clean</span>
    <SegmentChoice v-model="step" paper label="How clean" :options="steps" />
  </div>
  <PlanNumberRow v-for="n in END_NUMBERS[way]" :key="n.key" :number="n" />
</template>

<style scoped>
.choice {
  display: grid;
  grid-template-columns: 80px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 32px;
}
</style>
