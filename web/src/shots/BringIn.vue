<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus';
import { missingFrames } from '@zesty-crow/core/version';
import { computed, ref } from 'vue';
import { shotName, type Group } from './add-files.ts';

/** How dropped files belong together, before they are sent: what was found, why, and where it can be put right. */
const props = defineProps<{ groups: Group[]; into: string | undefined }>();
const emit = defineEmits<{ bring: [groups: Group[]]; close: [] }>();

interface Row {
  path: string;
  what: string;
  frame: number | null;
  why: string;
  /** Number of its group; -1 leaves it out. */
  group: number;
}
const names = ref(props.groups.map((g) => shotName(g.name)));
const rows = ref<Row[]>(
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
const LONG = 400;

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
        <table>
          <tbody>
            <template v-for="(row, k) in rows" :key="row.path">
              <tr v-if="row.group === i && k < LONG">
                <td class="cut" :title="row.path">{{ row.path }}</td>
                <td>{{ row.what }}</td>
                <td class="number">{{ row.frame ?? '' }}</td>
                <td class="quiet cut" :title="row.why">{{ row.why }}</td>
                <td>
                  <ElSelect v-model="row.group" size="small" :aria-label="`Where ${row.path} belongs`">
                    <ElOption v-for="(_, n) in groups" :key="n" :value="n" :label="title(n)" />
                    <ElOption :value="-1" label="Leave out" />
                  </ElSelect>
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </section>
      <section v-if="rows.some((r) => r.group < 0)" aria-label="Left out">
        <header><b>Left out</b></header>
        <p v-for="row in rows.filter((r) => r.group < 0)" :key="row.path" class="out">
          <span class="cut">{{ row.path }}</span>
          <ElSelect v-model="row.group" size="small" :aria-label="`Where ${row.path} belongs`">
            <ElOption v-for="(_, n) in groups" :key="n" :value="n" :label="title(n)" />
            <ElOption :value="-1" label="Leave out" />
          </ElSelect>
        </p>
      </section>
      <p v-if="rows.length > LONG" class="quiet">{{ rows.length - LONG }} more files are grouped alike.</p>
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
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
  margin-top: 6px;
  font-size: 13px;
}
td {
  padding: 2px 8px 2px 0;
  border-top: 1px solid var(--paper-line);
}
td:nth-child(1) {
  width: 30%;
}
td:nth-child(2) {
  width: 17%;
}
td:nth-child(3) {
  width: 7%;
}
td:nth-child(5) {
  width: 19%;
}
.number {
  text-align: right;
}
.quiet {
  color: var(--ink-quiet);
}
.out {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 4px 0;
}
.out .cut {
  flex: 1;
}
.out .el-select {
  width: 180px;
}
</style>
