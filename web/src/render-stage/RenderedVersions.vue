<script setup lang="ts">
import { computed } from 'vue';
import { ElButton } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { megabytes, type Roster } from '@zesty-crow/core';
import type { Render } from '@zesty-crow/server/contract';
import { usePlan } from '../shot/plan.ts';
import CostChart from './CostChart.vue';
import { costRows } from './cost-rows.ts';
import { additionInWords, isActive, stateInWords, WHAT } from './render-words.ts';

/** The versions that were rendered, and what each pass of the open one has cost. */
const props = defineProps<{ renders: readonly Render[]; open: Render; roster: Roster }>();
const emit = defineEmits<{ open: [versionId: string]; more: []; drop: [] }>();
const plan = usePlan();
const active = computed(() => props.open.jobs.some(isActive));
/** Samples a pixel that the open version has. */
const taken = computed(() => Math.max(0, ...props.open.measured.map((m) => m.samples)));
const enough = computed(
  () => plan.plan.render.doneWhen === 'samples' && plan.plan.render.samples <= taken.value,
);
const rows = computed(() => costRows(props.open, props.renders, props.roster));
</script>

<template>
  <div class="rendered scroll">
    <ul>
      <li v-for="r in renders" :key="r.versionId">
        <button
          class="plain-button version"
          :class="{ current: r.versionId === open.versionId }"
          type="button"
          @click="emit('open', r.versionId)"
        >
          <b>v{{ r.number }}</b> {{ WHAT[r.request?.what ?? 'all'] }}
          <span class="paper-hint">{{ stateInWords(r) }}</span>
        </button>
      </li>
    </ul>
    <div v-if="open.sums > 0 && !active" class="more">
      <ElButton
        size="small"
        :disabled="enough"
        :title="
          enough
            ? `It already has ${Math.floor(taken)} samples a pixel. Raise the number under Done when.`
            : ''
        "
        @click="emit('more')"
        >{{ additionInWords(plan.plan.render) }}</ElButton
      >
      <span class="paper-hint">{{ megabytes(open.sums) }} kept for it</span>
      <button
        class="plain-button"
        type="button"
        title="Delete what is kept; no samples can be added then"
        :aria-label="`Delete the ${megabytes(open.sums)} kept of v${open.number}`"
        @click="emit('drop')"
      >
        <Trash2 :size="15" :stroke-width="1.6" />
      </button>
    </div>
    <template v-if="rows.length">
      <CostChart :rows="rows" what="seconds" />
      <CostChart :rows="rows" what="bytes" />
    </template>
    <p v-else class="paper-hint">Costs of each pass appear when the first frame is done.</p>
  </div>
</template>

<style scoped>
.rendered {
  display: grid;
  grid-template-columns: minmax(150px, 200px) minmax(0, 1fr) minmax(0, 1fr);
  gap: 4px 16px;
  max-height: min(24vh, 216px);
  padding: 6px 12px;
  background: var(--paper);
  color: var(--ink);
}
ul {
  grid-row: span 2;
  margin: 0;
  padding: 0;
  list-style: none;
}
.more {
  grid-column: 2 / -1;
  display: flex;
  align-items: center;
  gap: 8px;
}
p {
  grid-column: 2 / -1;
  margin: 4px 0 0;
}
.version {
  width: 100%;
  padding: 3px 8px;
  text-align: left;
  border-left: 3px solid transparent;
}
.version.current {
  border-left-color: var(--lemon);
  background: var(--paper-shade);
}
.version .paper-hint {
  float: right;
}
</style>
