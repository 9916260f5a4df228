<script setup lang="ts">
import { ElButton, ElProgress } from 'element-plus';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useJobs } from './jobs.ts';

const store = useJobs();
const route = useRoute();
const NAMES = {
  ingest: 'Reading',
  scene: 'Reading',
  render: 'Rendering',
  export: 'Exporting',
  prepare: 'Preparing',
} as const;
// Reading shows on the shot itself, rendering in its own stage.
const shown = computed(() =>
  store.underWay
    .filter((j) => j.kind === 'export' || (j.kind === 'render' && route.name !== 'render'))
    .sort((a, b) => Number(b.state === 'running') - Number(a.state === 'running'))
    .slice(0, 3),
);
</script>

<template>
  <aside v-if="shown.length" class="tray" aria-live="polite" aria-label="Jobs under way">
    <div v-for="job in shown" :key="job.id" class="job">
      <div class="line">
        <strong>{{ NAMES[job.kind] }}</strong>
        <span class="cut">{{ job.state === 'waiting' ? 'Waiting for its turn' : job.message }}</span>
        <ElButton size="small" text @click="store.cancel(job.id)">Cancel</ElButton>
      </div>
      <ElProgress
        aria-label="Progress"
        :percentage="Math.round(job.progress * 100)"
        :stroke-width="5"
        :show-text="false"
        color="#33322e"
      />
    </div>
  </aside>
</template>

<style scoped>
.tray {
  position: fixed;
  left: 80px;
  bottom: 12px;
  width: 320px;
  z-index: 20;
  background: var(--paper);
  border: 1px solid var(--paper-line);
  box-shadow: 0 3px 14px rgb(0 0 0 / 35%);
  padding: 6px 12px 10px;
}
.line {
  display: flex;
  align-items: center;
  gap: 8px;
}
.line .cut {
  flex: 1;
  color: var(--ink-quiet);
}
</style>
