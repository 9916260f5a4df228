<script setup lang="ts">
import { computed } from 'vue';
import type { Roster } from '@zesty-crow/core';
import type { Render } from '@zesty-crow/server/contract';
import CostChart from './CostChart.vue';
import { costRows } from './cost-rows.ts';
import { stateInWords, WHAT } from './render-words.ts';

/** The versions that were rendered, and what each pass of the open one has cost. */
const props = defineProps<{ renders: readonly Render[]; open: Render; roster: Roster }>();
defineEmits<{ open: [versionId: string] }>();
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
          @click="$emit('open', r.versionId)"
        >
          <b>v{{ r.number }}</b> {{ WHAT[r.request?.what ?? 'all'] }}
          <span class="paper-hint">{{ stateInWords(r) }}</span>
        </button>
      </li>
    </ul>
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
  margin: 0;
  padding: 0;
  list-style: none;
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
