<script setup lang="ts">
import { X } from '@lucide/vue';
import { ElButton, ElProgress } from 'element-plus';
import { computed } from 'vue';
import type { Render, RenderJob } from '@zesty-crow/server/contract';
import { isActive, latestJobs, WHAT } from './render-words.ts';

/** How far a render is, what can be done about it, and its frames. */
const props = defineProps<{
  render: Render;
  /** The one whose picture is shown. */
  job: RenderJob | undefined;
  /** Samples are taken first where one looks. */
  here: boolean;
  /** Something was set otherwise than it is rendered, and it is being begun anew. */
  differs: boolean;
  beginning: boolean;
}>();
defineEmits<{
  choose: [jobId: string];
  anywhere: [];
  anew: [];
  keep: [];
  cancel: [];
  again: [];
}>();
const strip = computed(() => latestJobs(props.render.jobs));
const active = computed(() => strip.value.filter(isActive));
const missing = computed(() => strip.value.filter((j) => ['failed', 'cancelled'].includes(j.state)));
const progress = computed(() => {
  const jobs = strip.value;
  return jobs.length ? jobs.reduce((n, j) => n + (j.state === 'done' ? 1 : j.progress), 0) / jobs.length : 0;
});
/** Snapshots of frames that are not done, and can be kept. */
const snapshots = computed(() =>
  [...active.value, ...missing.value].reduce((n, j) => n + (j.state === 'cancelled' ? 0 : j.snapshot), 0),
);
/** Something is to be said or done about it. */
const said = computed(() => active.value.length > 0 || missing.value.length > 0 || !!props.render.problem);
</script>

<template>
  <div v-if="said || strip.length > 1" class="under">
    <div v-if="said" class="line">
      <strong>v{{ render.number }}</strong>
      <span>{{ WHAT[render.request?.what ?? 'all'] }}</span>
      <span class="cut quiet">{{ active.length ? job?.message : (render.problem ?? '') }}</span>
      <button
        v-if="here"
        class="plain-button room-button"
        type="button"
        title="Samples are taken first where you look"
        @click="$emit('anywhere')"
      >
        Samples here first <X :size="12" :stroke-width="1.8" />
      </button>
      <template v-if="active.length">
        <ElButton v-if="differs" size="small" :loading="beginning" @click="$emit('anew')"
          >Begin anew</ElButton
        >
        <ElButton v-if="job?.state === 'running' || snapshots > 0" size="small" @click="$emit('keep')"
          >Stop and keep</ElButton
        >
        <ElButton size="small" text class="on-room" @click="$emit('cancel')">Cancel</ElButton>
      </template>
      <template v-else-if="missing.length">
        <ElButton v-if="snapshots > 0" size="small" @click="$emit('keep')">Keep what is there</ElButton>
        <ElButton size="small" @click="$emit('again')">{{
          strip.length > 1 ? `Render ${missing.length} missing` : 'Render again'
        }}</ElButton>
      </template>
    </div>
    <ElProgress
      v-if="active.length"
      aria-label="Progress"
      :percentage="Math.round(progress * 1000) / 10"
      :stroke-width="5"
      :show-text="false"
      color="#f0d94a"
    />
    <div v-if="strip.length > 1" class="frames" role="list" aria-label="Frames">
      <button
        v-for="j in strip"
        :key="j.id"
        class="plain-button frame"
        :class="[j.state, { current: j.id === job?.id }]"
        type="button"
        :title="j.message"
        @click="$emit('choose', j.id)"
      >
        {{ j.part ? `part ${j.part}` : j.frame }}
        <i :style="{ width: `${(j.state === 'done' ? 1 : j.progress) * 100}%` }" />
      </button>
      <span class="quiet"
        >{{ strip.filter((j) => j.state === 'done').length }} of {{ strip.length }} done</span
      >
    </div>
    <p v-else-if="job?.state === 'failed'" class="failed" role="alert">{{ job.message }}</p>
  </div>
</template>

<style scoped>
.quiet {
  color: var(--on-room-quiet);
}
.under {
  padding: 8px 12px 10px;
  background: var(--room-deep);
  color: var(--on-room);
}
.line {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 28px;
}
.line .cut {
  flex: 1;
}
.on-room {
  color: var(--on-room);
}
.frames {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
  margin-top: 8px;
  max-height: 110px;
  overflow: auto;
}
.frame {
  position: relative;
  min-width: 34px;
  padding: 3px 6px 5px;
  background: var(--room);
  text-align: center;
}
.frame i {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 3px;
  background: var(--on-room-quiet);
}
.frame.running i {
  background: var(--lemon);
}
.frame.failed {
  background: #6e4a45;
}
.frame.current {
  background: var(--crow-soft);
}
.failed {
  margin: 6px 0 0;
}
p.failed {
  color: #ffd9d3;
}
</style>
