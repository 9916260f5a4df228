<script setup lang="ts">
import { ElButton, ElPopconfirm, ElProgress } from 'element-plus';
import { ref, watch } from 'vue';
import { framesText } from '@zesty-crow/core/parcels';
import type { ParcelRun, ParcelRunFile } from '@zesty-crow/server/contract';
import { api, archiveUrl, fileUrl } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { ago } from '../shot/ago.ts';
import { inBytes, inTime } from './sizes.ts';

/** What was handed over when, the latest first; under each its files, and what differs from the time before. */
const props = defineProps<{ runs: readonly ParcelRun[] }>();
const emit = defineEmits<{ deleted: [] }>();
async function remove(id: string): Promise<void> {
  await api.deleteRun(id);
  emit('deleted');
}
const opened = ref<string>();
const files = ref<ParcelRunFile[]>([]);
async function read(id: string | undefined): Promise<void> {
  const found = id === undefined ? [] : await api.filesOfRun(id);
  if (opened.value === id) files.value = found;
}
function flip(id: string): void {
  opened.value = opened.value === id ? undefined : id;
  files.value = [];
}
// More files come while it runs.
watch(
  [opened, () => props.runs.find((r) => r.id === opened.value)?.files],
  () => void read(opened.value).catch(notifyError),
);

const titles = (run: ParcelRun) => run.parcels.map((p) => p.title).join(', ');
const made = (run: ParcelRun) =>
  [
    `${run.files - run.reused} of ${run.files} files made anew`,
    inBytes(run.size),
    ...(run.placed ? [run.placed.message] : []),
  ].join(', ');
/** How far it is, and how long it will take at the pace that it had. */
function underWay({ done, jobs, progress, created }: ParcelRun): string {
  const told = `${done} of ${jobs} made`;
  if (progress < 0.5) return told;
  const seconds = (Date.now() - Date.parse(created)) / 1000;
  return `${told}, ${inTime((seconds / progress) * (jobs - progress))} left`;
}
/** What was not made and why, each reason once with its frames. */
function failures({ failed }: ParcelRun): { message: string; cancelled: boolean }[] {
  const frames = new Map<string, number[]>();
  for (const { message, frame } of failed)
    frames.set(message, [...(frames.get(message) ?? []), ...(frame === null ? [] : [frame])]);
  return [...frames].map(([message, own]) => {
    const which = new Set(own).size === 1 ? 'Frame' : 'Frames';
    return {
      message: own.length ? `${which} ${framesText(own)}: ${message}` : message,
      cancelled: message === 'Cancelled',
    };
  });
}
const MARKS = { new: 'new', changed: 'changed', same: 'as before' } as const;
</script>

<template>
  <section class="runs" aria-label="Handed over">
    <h2>Handed over</h2>
    <p v-if="runs.length === 0" class="empty">
      Nothing yet. What is made is kept here, with the sums of its files.
    </p>
    <article v-for="run in runs" :key="run.id" :aria-label="`Run of ${titles(run)}`">
      <header>
        <b class="cut">{{ titles(run) }}</b>
        <span class="quiet">v{{ run.version }}, {{ ago(run.created) }}</span>
      </header>
      <template v-if="run.ended === null">
        <ElProgress
          :percentage="Math.round((100 * run.progress) / Math.max(1, run.jobs))"
          :stroke-width="6"
        />
        <footer>
          <span class="quiet" role="status">{{ underWay(run) }}</span>
          <ElButton size="small" @click="api.cancelRun(run.id).catch(notifyError)">Cancel</ElButton>
        </footer>
      </template>
      <template v-else>
        <p v-if="run.files" class="quiet" role="status">{{ made(run) }}</p>
        <footer>
          <a v-if="run.files" class="download" :href="archiveUrl(run.id)" download>Download all</a>
          <button
            class="plain-button quiet"
            type="button"
            :aria-expanded="opened === run.id"
            @click="flip(run.id)"
          >
            {{ opened === run.id ? 'Hide the files' : 'Show the files' }}
          </button>
          <ElPopconfirm
            title="Delete this with its files? What lies in folders stays."
            confirm-button-text="Delete"
            cancel-button-text="Keep"
            :width="260"
            @confirm="remove(run.id).catch(notifyError)"
          >
            <template #reference>
              <button
                class="plain-button quiet"
                type="button"
                :aria-label="`Delete the run of ${titles(run)}`"
              >
                Delete
              </button>
            </template>
          </ElPopconfirm>
        </footer>
      </template>
      <p v-for="f in failures(run)" :key="f.message" :class="f.cancelled ? 'quiet' : 'fault'" role="alert">
        {{ f.message }}
      </p>
      <ul v-if="opened === run.id">
        <li v-for="f in files" :key="f.name">
          <a v-if="f.fileId" class="cut" :href="fileUrl(f.fileId, true)" :title="`SHA-256 ${f.sha256}`">{{
            f.name
          }}</a>
          <span v-else class="cut">{{ f.name }}</span>
          <span class="quiet">{{ inBytes(f.size) }}</span>
          <span class="quiet">{{ MARKS[f.against] }}</span>
        </li>
      </ul>
    </article>
  </section>
</template>

<style scoped>
.runs {
  padding: 14px 16px;
  color: var(--on-room);
}
h2 {
  margin: 0 0 10px;
  font-size: 17px;
}
article {
  margin-bottom: 10px;
  padding: 9px 12px;
  background: var(--paper);
  color: var(--ink);
}
header,
footer {
  display: flex;
  gap: 10px;
  align-items: baseline;
  justify-content: space-between;
}
article p {
  margin: 4px 0;
}
header .quiet {
  white-space: nowrap;
}
.quiet {
  color: var(--ink-quiet);
}
.empty {
  color: var(--on-room-quiet);
}
.download {
  color: var(--ink);
  font-weight: 600;
}
.fault {
  color: var(--alarm);
}
ul {
  max-height: 300px;
  margin: 8px 0 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr auto 70px;
  gap: 10px;
  padding: 2px 0;
}
li a {
  color: var(--ink);
}
</style>
