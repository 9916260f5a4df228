<script setup lang="ts">
import {
  ElButton,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElSplitter,
  ElSplitterPanel,
} from 'element-plus';
import { useDebounceFn } from '@vueuse/core';
import { Copy, Plus, Trash2 } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { PARCEL_KINDS, parcelKind, type ParcelKind } from '@zesty-crow/core/parcels';
import { frameNumbers } from '@zesty-crow/core/version';
import { useChanges } from '../shot/changes/changes.ts';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { useJobs } from '../server/jobs.ts';
import ShotBar from '../shot/ShotBar.vue';
import { unfinishedReason } from '../shot/unfinished.ts';
import VersionChoice from '../shot/VersionChoice.vue';
import { useShot } from '../shot/use-shot.ts';
import { useUndoKeys } from '../shot/use-undo-keys.ts';
import ParcelSheet from './ParcelSheet.vue';
import { useParcels } from './parcels.ts';
import RunList from './RunList.vue';
import { inBytes, inTime } from './sizes.ts';

const props = defineProps<{ id: string }>();
const parcels = useParcels();
const changes = useChanges();
const jobs = useJobs();
const { shot, load } = useShot(props.id);

const ready = computed(() => shot.value?.versions.filter((v) => v.state === 'ready') ?? []);
const chosen = ref<string>();
const version = computed(() => ready.value.find((v) => v.id === chosen.value) ?? ready.value[0]);
const unfinished = computed(() => unfinishedReason(version.value));
const frames = computed(() => (version.value ? frameNumbers(version.value.files) : []));
const open = computed(
  () => parcels.list.parcels.find((p) => p.id === parcels.openId) ?? parcels.list.parcels[0],
);
const check = computed(() => open.value && parcels.checks.get(open.value.id));

void load();
void Promise.all([parcels.load(props.id), changes.load(props.id)]).catch(notifyError);
useUndoKeys(parcels);

const look = useDebounceFn(() => {
  if (version.value) void parcels.look(version.value.id).catch(notifyError);
}, 150);
const lookAtRuns = useDebounceFn(() => {
  if (version.value) void parcels.lookAtRuns(version.value.id).catch(notifyError);
}, 150);
const own = computed(() =>
  jobs.jobs.filter((j) => j.shot_id === props.id && (j.kind === 'parcel' || j.kind === 'place')),
);
// What is saved decides what would be made, and what has been: that is another once a run is over.
watch(
  [
    version,
    () => parcels.saving === 'saved' && JSON.stringify(parcels.list),
    () => changes.saving === 'saved' && JSON.stringify(changes.list),
    () => parcels.runs.map((r) => `${r.id} ${r.ended}`).join(),
  ],
  () => void look(),
  { immediate: true },
);
watch(
  [version, () => own.value.map((j) => `${j.id} ${j.state} ${j.progress}`).join()],
  () => void lookAtRuns(),
  {
    immediate: true,
  },
);

const told = computed(() => {
  const c = check.value;
  if (!c) return '';
  const files = c.files === 1 ? '1 file' : `${c.files} files`;
  const about = [`about ${inBytes(c.bytes)}`, ...(c.seconds ? [inTime(c.seconds)] : [])].join(', ');
  if (c.toMake === 0 && c.files) return `${files}, all made already`;
  return `${files}, ${about}${c.unchanged ? `; ${c.unchanged} unchanged since last time` : ''}`;
});
const refused = (id: string) => (parcels.checks.get(id)?.faults.length ?? 0) > 0;
/** Makes one parcel, or all. */
async function make(ids?: string[]): Promise<void> {
  if (version.value) await api.makeParcels(version.value.id, ids);
  await lookAtRuns();
}
const add = (kind: ParcelKind) => parcels.add(kind);
</script>

<template>
  <div class="export">
    <ShotBar :name="shot?.name" :document="parcels">
      <VersionChoice :version="version" :ready="ready" @open="chosen = $event.id" />
      <template #end>
        <ElButton
          size="small"
          type="primary"
          :title="unfinished"
          :disabled="
            !version ||
            unfinished !== undefined ||
            parcels.list.parcels.length === 0 ||
            parcels.list.parcels.some((p) => refused(p.id))
          "
          @click="make().catch(notifyError)"
          >Make all</ElButton
        >
      </template>
    </ShotBar>
    <ElSplitter class="below">
      <ElSplitterPanel size="250" min="200" max="34%">
        <section class="list" aria-label="Parcels">
          <header>
            <h2>Parcels</h2>
            <ElDropdown trigger="click" :persistent="false" @command="add">
              <ElButton size="small" :icon="Plus">Add a parcel</ElButton>
              <template #dropdown>
                <ElDropdownMenu>
                  <ElDropdownItem v-for="k in PARCEL_KINDS" :key="k.kind" :command="k">
                    <span class="offer"><b>{{ k.label }}</b><small>{{ k.hint }}</small></span>
                  </ElDropdownItem>
                </ElDropdownMenu>
              </template>
            </ElDropdown>
          </header>
          <p v-if="parcels.list.parcels.length === 0" class="empty">
            A parcel says what is handed over: which frames, in which form, under which names. It is kept with
            the shot, and made again with one click.
          </p>
          <ol>
            <li
              v-for="p in parcels.list.parcels"
              :key="p.id"
              :class="{ open: p.id === open?.id }"
              @click="parcels.openId = p.id"
            >
              <button class="plain-button title cut" type="button">{{ p.title || 'Parcel' }}</button>
              <small class="cut">{{ parcelKind(p.kind)?.label }}</small>
              <small v-if="refused(p.id)" class="fault">cannot be made</small>
              <span class="tools">
                <button
                  class="plain-button"
                  type="button"
                  :aria-label="`Copy ${p.title}`"
                  @click.stop="parcels.copy(p)"
                >
                  <Copy :size="14" :stroke-width="1.6" />
                </button>
                <button
                  class="plain-button"
                  type="button"
                  :aria-label="`Delete ${p.title}`"
                  @click.stop="parcels.remove(p)"
                >
                  <Trash2 :size="14" :stroke-width="1.6" />
                </button>
              </span>
            </li>
          </ol>
        </section>
      </ElSplitterPanel>
      <ElSplitterPanel>
        <div class="middle scroll">
          <template v-if="open && version">
            <ParcelSheet
              :key="open.id"
              :parcel="open"
              :sequence="frames.length > 0"
              :shot="shot?.name ?? ''"
              :version="version.number"
              :frame="frames[0]"
              :layers="version.summary?.layers.map((l) => l.name) ?? []"
            />
            <section class="made" aria-label="What will be made">
              <p v-if="unfinished" class="fault" role="alert">{{ unfinished }}</p>
              <p v-for="f in check?.faults" :key="f" class="fault" role="alert">{{ f }}</p>
              <p v-for="n in check?.notes" :key="n" class="note">{{ n }}</p>
              <div class="go">
                <ElButton
                  type="primary"
                  :disabled="!check || unfinished !== undefined || refused(open.id)"
                  @click="make([open.id]).catch(notifyError)"
                  >Make this parcel</ElButton
                >
                <span role="status">{{ told }}</span>
              </div>
              <ul class="names">
                <li v-for="n in check?.names" :key="n">{{ n }}</li>
                <li v-if="check && check.files > check.names.length">
                  and {{ check.files - check.names.length }} more
                </li>
              </ul>
            </section>
          </template>
          <p v-else-if="shot && ready.length === 0" class="empty">
            This shot has no version that can be handed over yet.
          </p>
        </div>
      </ElSplitterPanel>
      <ElSplitterPanel size="340" min="240" max="45%">
        <div class="scroll"><RunList :runs="parcels.runs" @deleted="lookAtRuns" /></div>
      </ElSplitterPanel>
    </ElSplitter>
  </div>
</template>

<style scoped>
.export {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.below {
  flex: 1;
  min-height: 0;
}
/* No bright lines in the room. */
.below :deep(.el-splitter-bar__dragger::before),
.below :deep(.el-splitter-bar__dragger::after) {
  background-color: var(--room-line);
}
.scroll {
  height: 100%;
  overflow-y: auto;
}
.list {
  height: 100%;
  padding: 14px 12px;
  overflow-y: auto;
  color: var(--on-room);
}
.list header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 10px;
}
h2 {
  margin: 0;
  font-size: 17px;
}
.empty {
  color: var(--on-room-quiet);
}
.middle > .empty {
  padding: 20px;
}
ol,
.names {
  margin: 0;
  padding: 0;
  list-style: none;
}
ol li {
  position: relative;
  display: grid;
  margin-bottom: 8px;
  padding: 8px 58px 8px 12px;
  background: var(--paper);
  color: var(--ink);
  border-left: 4px solid transparent;
  cursor: pointer;
}
ol li.open {
  border-left-color: var(--lemon);
  background: var(--paper-bright);
}
ol .title {
  font-weight: 600;
  text-align: left;
}
ol small {
  color: var(--ink-quiet);
}
.tools {
  position: absolute;
  right: 8px;
  top: 9px;
  display: flex;
  gap: 4px;
}
.tools button {
  display: grid;
  padding: 3px;
}
.middle {
  padding: 14px;
}
.middle > section {
  max-width: 860px;
}
.made {
  margin-top: 12px;
  padding: 12px 18px;
  background: var(--paper);
  color: var(--ink);
}
.go {
  display: flex;
  gap: 14px;
  align-items: center;
}
.names {
  max-height: 200px;
  margin-top: 10px;
  overflow-y: auto;
  color: var(--ink-quiet);
  font-size: 13px;
  overflow-wrap: anywhere;
}
small.fault,
.fault {
  color: var(--alarm);
}
.note {
  padding: 3px 8px;
  border-left: 3px solid var(--lemon);
}
.offer {
  display: grid;
  max-width: 330px;
  padding: 3px 0;
  line-height: 1.3;
  white-space: normal;
}
.offer small {
  color: var(--ink-quiet);
}
</style>
