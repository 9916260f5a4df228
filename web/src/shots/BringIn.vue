<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus';
import { missingFrames } from '@zesty-crow/core/version';
import { computed, ref } from 'vue';
import { shotName, type Group } from '../shot/bring-in/add-files.ts';
import BringInFiles, { type FileRow } from './BringInFiles.vue';

/** How dropped files belong together, before they are sent: what was found, why, and where it can be put right. */
const props = defineProps<{ groups: Group[]; into: string | undefined }>();
const emit = defineEmits<{ bring: [groups: Group[]]; close: [] }>();

const names = ref(props.groups.map((g) => shotName(g.name)));
const rows = ref<FileRow[]>(
  props.groups.flatMap((g, group) =>
    g.files.map((f) => ({
      path: f.file.path,
      what: f.role === 'sidecar' ? 'list of names' : f.label || 'picture',
      frame: f.frame,
      why: f.why,
      group,
    })),
  ),
);
const all = props.groups.flatMap((g) => g.files);
const move = (row: number, group: number) => (rows.value[row]!.group = group);

const result = computed((): Group[] =>
  props.groups.map((g, i) => ({
    ...g,
    name: names.value[i]!,
    files: all.filter((_, k) => rows.value[k]!.group === i),
  })),
);
const used = computed(() => result.value.filter((g) => g.files.some((f) => f.role === 'picture')));
const title = (i: number) =>
  `${names.value[i]}${props.groups[i]!.version ? ` ${props.groups[i]!.version}` : ''}`;

/** What a group is, in a line. */
function facts(i: number): string {
  const g = result.value[i]!;
  const pictures = g.files.filter((f) => f.role === 'picture');
  const frames = [...new Set(pictures.flatMap((f) => f.frame ?? []))].sort((a, b) => a - b);
  const missing = missingFrames(g);
  const parts = [`${pictures.length} ${pictures.length === 1 ? 'picture' : 'pictures'}`];
  if (frames.length > 1) parts.push(`frames ${frames[0]} to ${frames.at(-1)}`);
  if (missing.length)
    parts.push(
      `missing: ${missing.slice(0, 6).join(', ')}${missing.length > 6 ? ` and ${missing.length - 6} more` : ''}`,
    );
  return parts.join(', ');
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="into ? `Bring in to ${into}` : 'Bring in'"
    width="min(980px, 94vw)"
    top="6vh"
    @close="emit('close')"
  >
    <div class="scroll list">
      <section v-for="(g, i) in groups" :key="i" :aria-label="title(i)">
        <header>
          <ElInput
            v-model="names[i]"
            size="small"
            maxlength="200"
            :disabled="into !== undefined"
            aria-label="Name of the shot"
          />
          <b v-if="g.version">{{ g.version }}</b>
          <span class="quiet">{{ facts(i) }}</span>
        </header>
        <p v-for="doubt in g.doubts" :key="doubt" class="doubt">{{ doubt }}</p>
        <BringInFiles :rows="rows" :group="i" :titles="groups.map((_, n) => title(n))" @move="move" />
      </section>
      <section aria-label="Left out">
        <header><b>Left out</b></header>
        <BringInFiles :rows="rows" :group="-1" :titles="groups.map((_, n) => title(n))" @move="move" />
      </section>
    </div>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="used.length === 0" @click="emit('bring', used)">
        Bring in {{ used.length === 1 ? 'one version' : `${used.length} versions` }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.list {
  max-height: 62vh;
}
section {
  margin-bottom: 16px;
}
header {
  display: flex;
  align-items: center;
  gap: 12px;
}
header .el-input {
  width: 240px;
}
.doubt {
  margin: 6px 0 0;
  padding: 3px 8px;
  background: var(--lemon-soft);
}
.quiet {
  color: var(--ink-quiet);
}
</style>
