<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import UploadLine from './UploadLine.vue';
import { useUploads } from '../shot/bring-in/uploads.ts';
import TrayLine from './TrayLine.vue';
import { useJobs } from '../server/jobs.ts';

const store = useJobs();
const uploads = useUploads();
const route = useRoute();
const NAMES = {
  ingest: 'Reading',
  scene: 'Reading',
  render: 'Rendering',
  probe: 'Trying',
  export: 'Exporting',
  prepare: 'Preparing',
  mend: 'Writing',
  check: 'Inspecting',
  parcel: 'Making',
  place: 'Writing',
} as const;
// Reading shows on the shot itself, rendering in its own stage.
const shown = computed(() =>
  store.underWay
    .filter(
      (j) => j.kind === 'export' || j.kind === 'mend' || (j.kind === 'render' && route.name !== 'render'),
    )
    .sort((a, b) => Number(b.state === 'running') - Number(a.state === 'running'))
    .slice(0, 3),
);
</script>

<template>
  <aside v-if="shown.length || uploads.busy" class="tray" aria-live="polite" aria-label="Jobs under way">
    <UploadLine v-for="(upload, i) in uploads.uploads" :key="i" :upload="upload" />
    <div v-for="job in shown" :key="job.id" class="job">
      <TrayLine
        :what="NAMES[job.kind]"
        :text="job.state === 'waiting' ? 'Waiting for its turn' : job.message"
        :share="job.progress"
        @cancel="store.cancel(job.id)"
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
</style>
