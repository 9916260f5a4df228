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
  { value: 'clean', label: 'clean', title: 'Done when it is clean enough' },
  { value: 'time', label: 'time', title: 'Done after a time' },
  { value: 'samples', label: 'samples', title: 'Done after a number of samples' },
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
  <h3 class="paper-heading">Done when</h3>
  <SegmentChoice v-model="way" class="wide" paper label="Done when" :options="WAYS" />
  <SegmentChoice
    v-if="way === 'clean'"
    v-model="step"
    class="wide"
    paper
    label="How clean"
    :options="steps"
  />
  <PlanNumberRow v-for="n in END_NUMBERS[way]" :key="n.key" :number="n" />
</template>

<style scoped>
.paper-heading {
  margin-top: 12px;
}
.wide {
  margin-bottom: 4px;
}
</style>
