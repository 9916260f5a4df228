<script setup lang="ts">
import {
  ElButton,
  ElDialog,
  ElInput,
  ElOption,
  ElProgress,
  ElRadio,
  ElRadioGroup,
  ElSelect,
} from 'element-plus';
import { exportKind, EXPORTS } from '@zesty-crow/core/exports';
import { computed, ref } from 'vue';
import { useChanges } from '../shot/changes/changes.ts';
import type { Job, Version } from '@zesty-crow/server/contract';
import { api, fileUrl } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { useJobs } from '../server/jobs.ts';

const props = defineProps<{ version: Version; shotName: string; frame?: number | undefined }>();
const emit = defineEmits<{ close: [] }>();
const changes = useChanges();
const jobs = useJobs();

/** The change list itself needs no computing: it is saved from here. */
const LIST = {
  kind: 'list',
  label: 'Change list, JSON',
  note: 'For applying the same changes from the command line.',
};
const KINDS = [...EXPORTS, LIST];

const plain = (text: string) =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '') || 'shot';

const kind = ref(EXPORTS[0]!.kind);
const chosen = computed(() => exportKind(kind.value));
const changeId = ref(changes.openId ?? changes.list.changes[0]?.id);
const base = ref(
  [
    plain(props.shotName),
    `v${props.version.number}`,
    ...(changes.variant ? [plain(changes.variant.name)] : []),
  ].join('_'),
);
const jobId = ref<string>();
const fetched = ref(false);

const isMask = computed(() => chosen.value?.of === 'change');
const ending = computed(() => chosen.value?.ending ?? 'json');
const part = computed(() => {
  if (!chosen.value) return 'changes';
  if (!isMask.value) return 'corrected';
  return `mask_${plain(changes.list.changes.find((c) => c.id === changeId.value)?.words ?? '').slice(0, 40)}`;
});
const stem = computed(() => `${base.value.trim()}_${part.value}`);
const fault = computed(() => {
  if (!base.value.trim()) return 'Give the file a name.';
  if (/[/\\:]/.test(base.value)) return 'The name may not contain / \\ or :';
  if (isMask.value && !changeId.value) return 'There is no change whose mask could be saved.';
  return '';
});
const job = computed<Job | undefined>(() => jobs.jobs.find((j) => j.id === jobId.value));
const running = computed(() => job.value && (job.value.state === 'waiting' || job.value.state === 'running'));

function download(url: string, name: string): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

async function start(): Promise<void> {
  fetched.value = false;
  if (!chosen.value) {
    const text = JSON.stringify(changes.list, null, 1);
    const url = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
    download(url, `${stem.value}.json`);
    setTimeout(() => URL.revokeObjectURL(url), 10_000);
    emit('close');
    return;
  }
  try {
    const made = await api.export(props.version.id, {
      kind: kind.value,
      ...(isMask.value && changeId.value ? { changeId: changeId.value } : {}),
      name: stem.value,
      ...(props.frame === undefined ? {} : { frame: props.frame }),
      ...(changes.variant ? { variant: changes.variant.id } : {}),
      list: JSON.parse(JSON.stringify(changes.list)),
    });
    jobs.put(made);
    jobId.value = made.id;
  } catch (error) {
    notifyError(error);
  }
}
</script>

<template>
  <ElDialog model-value title="Export" width="520" @close="emit('close')">
    <ElRadioGroup v-model="kind" class="kinds" :disabled="!!running">
      <ElRadio v-for="k in KINDS" :key="k.kind" :value="k.kind">
        {{ k.label }}<span class="note">{{ k.note }}</span>
      </ElRadio>
    </ElRadioGroup>
    <div class="fields">
      <template v-if="isMask">
        <label for="export-change">Change</label>
        <ElSelect id="export-change" v-model="changeId" aria-label="Change whose mask is saved">
          <ElOption
            v-for="c in changes.list.changes"
            :key="c.id"
            :value="c.id"
            :label="c.words || 'New change'"
          />
        </ElSelect>
      </template>
      <label for="export-name">Name</label>
      <ElInput id="export-name" v-model="base" maxlength="80" />
      <span>File</span>
      <strong class="file">{{ stem }}.{{ ending }}</strong>
    </div>
    <p v-if="fault" class="fault">{{ fault }}</p>
    <div v-if="job" class="job" role="status">
      <template v-if="running">
        <span>{{ job.state === 'waiting' ? 'Waiting for its turn' : job.message }}</span>
        <ElProgress
          aria-label="Progress"
          :percentage="Math.round(job.progress * 100)"
          :stroke-width="6"
          color="#33322e"
        />
      </template>
      <template v-else-if="job.state === 'done' && job.result?.fileId">
        <a
          class="result"
          :href="fileUrl(job.result.fileId, true)"
          :download="job.result.name"
          @click="fetched = true"
        >
          Save {{ job.result.name }} ({{ ((job.result.size ?? 0) / 1e6).toFixed(1) }} MB)
        </a>
        <span v-if="fetched">Handed to the browser.</span>
      </template>
      <span v-else class="fault">{{ job.state === 'cancelled' ? 'Cancelled.' : job.message }}</span>
    </div>
    <template #footer>
      <ElButton v-if="running" @click="jobs.cancel(job!.id)">Cancel export</ElButton>
      <ElButton v-else @click="emit('close')">Close</ElButton>
      <ElButton type="primary" :disabled="!!fault || !!running" @click="start">
        {{ !chosen ? 'Save' : 'Compute at full resolution' }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.kinds {
  display: grid;
  gap: 2px;
  justify-items: start;
}
.kinds :deep(.el-radio) {
  height: auto;
  padding: 3px 0;
  align-items: flex-start;
}
.note {
  display: block;
  color: var(--ink-quiet);
  font-size: 13px;
}
.fields {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 10px;
  align-items: center;
  margin-top: 14px;
}
.file {
  overflow-wrap: anywhere;
}
.fault {
  color: var(--alarm);
}
.job {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--paper-line);
}
.result {
  color: var(--ink);
  font-weight: 600;
  margin-right: 12px;
}
</style>
