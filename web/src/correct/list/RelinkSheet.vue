<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus';
import { computed, reactive, ref, shallowRef, watch } from 'vue';
import { picksOf } from '@zesty-crow/core/changes';
import type { PickReport, Proposal, RelinkReport } from '@zesty-crow/core/relink';
import type { Version } from '@zesty-crow/server/contract';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import type { PassPicture } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { layerLabel } from '../layer-label.ts';

/** How the picks of all changes fare in this version, and what the lost ones may be called now. */
const props = defineProps<{
  versions: readonly Version[];
  /** Versions of another shot that picks were taken from, the likeliest first. */
  elsewhere: readonly { version: Version; name: string }[];
}>();
const emit = defineEmits<{ close: [] }>();
const changes = useChanges();
const picture = usePicture();
const THUMB = { width: 72, height: 54 };

const others = computed(() => [
  ...props.elsewhere,
  ...props.versions
    .filter((v) => v.id !== picture.versionId && v.state === 'ready')
    .map((version) => ({ version, name: `v${version.number}` })),
]);
const now = computed(() => props.versions.find((v) => v.id === picture.versionId)?.number ?? Infinity);
/** The version that the picks were made in: the one before this, unless somebody knows better. */
const chosen = ref<string>();
const before = computed(
  () =>
    others.value.find((o) => o.version.id === chosen.value)?.version ??
    props.elsewhere[0]?.version ??
    props.versions
      .filter((v) => v.number < now.value && v.state === 'ready')
      .sort((a, b) => b.number - a.number)[0],
);

const report = shallowRef<RelinkReport>();
const reading = ref(false);
/** What is chosen for a lost member, by its key; nothing is without a click. */
const taken = reactive(new Map<string, string>());
const pictures = reactive(new Map<string, PassPicture | undefined>());
const keyOf = ({ pick }: PickReport) => `${pick.layer}\0${pick.member}`;

async function read(): Promise<void> {
  reading.value = true;
  taken.clear();
  try {
    const { changes: list, headings } = changes.list;
    const owners = [...list, ...headings].map((o) => ({ id: o.id, who: picksOf(o) }));
    report.value = await picture.relink(JSON.parse(JSON.stringify(owners)) as typeof owners, before.value);
  } catch (error) {
    notifyError(error);
  } finally {
    reading.value = false;
  }
  for (const p of report.value?.picks ?? [])
    for (const q of p.proposals) void show(p.pick.layer, q).catch(notifyError);
}
async function show(layer: string, { id }: Proposal): Promise<void> {
  const key = `${layer} ${id}`;
  if (!pictures.has(key)) pictures.set(key, await picture.thumbnail(layer, id, THUMB.width, THUMB.height));
}
watch(before, () => void read(), { immediate: true });

const all = computed(() => report.value?.picks ?? []);
const count = (fate: PickReport['fate']) => all.value.filter((p) => p.fate === fate).length;
/** One row for each lost member, whatever changes name it. */
const lost = computed(() => {
  const rows = new Map<string, { first: PickReport; words: string[] }>();
  for (const p of all.value) {
    if (p.fate !== 'lost' && p.fate !== 'no-layer') continue;
    const row = rows.get(keyOf(p)) ?? { first: p, words: [] };
    rows.set(keyOf(p), row);
    row.words.push(wordsOf(p.owner));
  }
  return [...rows].map(([key, row]) => ({ key, ...row }));
});
const wordsOf = (id: string) =>
  [...changes.list.changes, ...changes.list.headings].find((o) => o.id === id)?.words || 'New change';
const likely = computed(() => lost.value.filter((r) => r.first.likely && !taken.has(r.key)));
function takeLikely(): void {
  for (const r of likely.value) taken.set(r.key, r.first.proposals[0]!.name);
}
const summary = computed(() => {
  const fresh = (report.value?.fresh ?? []).reduce((sum, l) => sum + l.names.length, 0);
  return [
    `${count('found')} found`,
    count('unseen') ? `${count('unseen')} not shown in this frame` : '',
    count('lost') ? `${count('lost')} lost` : '',
    count('no-layer') ? `${count('no-layer')} in layers that are not there` : '',
    report.value?.fresh ? `${fresh} new ${fresh === 1 ? 'member' : 'members'}` : '',
  ]
    .filter(Boolean)
    .join(', ');
});
const percent = (v: number) => `${Math.round(100 * v)} %`;
const why = ({ like }: Proposal) =>
  (['name', 'place', 'colour'] as const)
    .flatMap((part) => (like[part] === undefined ? [] : [`${part} ${percent(like[part])}`]))
    .join(', ');
function apply(): void {
  const renamings = lost.value.flatMap(({ key, first }) => {
    const to = taken.get(key);
    return to ? [{ layer: first.pick.layer, from: first.pick.member, to }] : [];
  });
  changes.rename(renamings);
  emit('close');
}
</script>

<template>
  <ElDialog model-value title="Find members again" width="640" append-to-body @close="emit('close')">
    <div class="against">
      <span>Picks were made in</span>
      <ElSelect
        size="small"
        :model-value="before?.id ?? ''"
        aria-label="Picks were made in"
        @update:model-value="chosen = $event as string"
      >
        <ElOption v-if="!before" value="" label="an unknown version" />
        <ElOption v-for="o in others" :key="o.version.id" :value="o.version.id" :label="o.name" />
      </ElSelect>
    </div>
    <p v-if="reading" role="status">Comparing members…</p>
    <template v-else-if="report">
      <p role="status">{{ summary }}.</p>
      <ul>
        <li v-for="row in lost" :key="row.key" :aria-label="row.first.pick.member">
          <h3 class="cut">{{ row.first.pick.member }}</h3>
          <small
            >{{ layerLabel(row.first.pick.layer) }}, in {{ row.words.map((w) => `“${w}”`).join(', ') }}</small
          >
          <p v-if="row.first.fate === 'no-layer'" class="paper-hint">This version has no such layer.</p>
          <p v-else-if="row.first.pick.rule" class="paper-hint">A rule that matches nothing here.</p>
          <p v-else-if="row.first.proposals.length === 0" class="paper-hint">Nothing here is like it.</p>
          <ElRadioGroup
            v-else
            :model-value="taken.get(row.key) ?? ''"
            @update:model-value="$event ? taken.set(row.key, $event as string) : taken.delete(row.key)"
          >
            <ElRadio v-for="q in row.first.proposals" :key="q.name" :value="q.name">
              <ShownCanvas :shown="pictures.get(`${row.first.pick.layer} ${q.id}`)" aria-hidden="true" />
              <span class="cut"
                ><b>{{ q.name }}</b><small>{{ percent(q.like.score) }} alike: {{ why(q) }}</small></span
              >
            </ElRadio>
            <ElRadio value="">Leave it as it is</ElRadio>
          </ElRadioGroup>
        </li>
      </ul>
    </template>
    <template #footer>
      <ElButton v-if="likely.length" @click="takeLikely">{{
        likely.length === 1 ? 'Choose the likely one' : `Choose the ${likely.length} likely ones`
      }}</ElButton>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="taken.size === 0" @click="apply">
        {{ taken.size === 1 ? 'Rename 1 member' : `Rename ${taken.size} members` }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.against {
  display: grid;
  grid-template-columns: auto 160px;
  gap: 10px;
  align-items: center;
}
ul {
  max-height: 52vh;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  padding: 8px 0;
  border-top: 1px solid var(--paper-line);
}
h3 {
  margin: 0;
  font-size: 14px;
  font-weight: 600;
}
small {
  color: var(--ink-quiet);
}
li :deep(.el-radio-group) {
  display: grid;
  gap: 4px;
  justify-items: start;
}
li :deep(.el-radio) {
  height: auto;
}
li :deep(.el-radio__label) {
  display: flex;
  gap: 8px;
  align-items: center;
}
li :deep(.el-radio__label) small {
  display: block;
}
canvas {
  width: 72px;
  background: #2b2b2b;
}
</style>
