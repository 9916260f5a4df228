<script setup lang="ts">
import { ElButton, ElOption, ElProgress, ElSelect, ElSplitter, ElSplitterPanel } from 'element-plus';
import { ChevronLeft, ChevronRight } from '@lucide/vue';
import { computed, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue';
import { frameNumbers } from '@zesty-crow/core/version';
import ExportDialog from '../export/ExportDialog.vue';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import type { Version } from '@zesty-crow/server/contract';
import { notifyError } from '../server/notify.ts';
import { useShot } from '../shot/use-shot.ts';
import ShotBar from '../shot/ShotBar.vue';
import { openExport } from '../shell/open-export.ts';
import PictureViewer from '../viewer/PictureViewer.vue';
import type { Place } from '../viewer/tool.ts';
import { TOOLS } from '../viewer/tools/registry.ts';
import { useChanges } from './changes.ts';
import ChangeListPanel from './ChangeListPanel.vue';
import ChangeSheet from './ChangeSheet.vue';
import { useLook } from './look.ts';
import FindingsPanel from './FindingsPanel.vue';
import PickBar from './PickBar.vue';
import { usePickTarget } from './pick-target.ts';
import PointerTag from './PointerTag.vue';
import SideColumn from './SideColumn.vue';
import { NARROWEST, useColumns } from './use-columns.ts';
import { useKeys } from './use-keys.ts';
import ViewBar from './ViewBar.vue';

const props = defineProps<{ id: string }>();
const picture = usePicture();
const changes = useChanges();
const view = useLook();

const { shot, load: loadShot } = useShot(props.id);
const viewer = ref<InstanceType<typeof PictureViewer>>();
const probe = shallowRef<Probe>();
const pointer = shallowRef<Place>({ x: 0, y: 0 });
const columns = useColumns();
const pickTarget = usePickTarget();
const zoomPercent = ref(100);
const exporting = ref(false);

const ready = computed(() => shot.value?.versions.filter((v) => v.state === 'ready') ?? []);
const version = computed(() => ready.value.find((v) => v.id === picture.versionId));

async function openVersion(v: Version, wanted?: number): Promise<void> {
  const numbers = frameNumbers(v.files);
  frame.value = wanted !== undefined && numbers.includes(wanted) ? wanted : numbers[0];
  await picture.open(v, frame.value);
  pushChanges();
  pushLook();
}
const frame = ref<number>();
const frames = computed(() => (version.value ? frameNumbers(version.value.files) : []));
function goFrame(by: number): void {
  const next = frames.value[frames.value.indexOf(frame.value ?? NaN) + by];
  if (next !== undefined && version.value) void openVersion(version.value, next);
}

const pushChanges = () =>
  picture.setChanges(JSON.parse(JSON.stringify(changes.list.changes)), changes.openId);
const pushLook = () =>
  picture.setLook({ look: view.look, stops: view.stops, layer: view.layer, openChange: changes.openId });
watch([() => changes.list, () => changes.openId], pushChanges, { deep: true });
watch([() => view.look, () => view.stops, () => view.layer, () => changes.openId], pushLook);

onMounted(async () => {
  view.reset();
  await loadShot();
  if (!shot.value) return;
  try {
    await changes.load(props.id);
  } catch (error) {
    notifyError(error);
  }
  const latest = ready.value[0];
  if (latest) await openVersion(latest);
  else picture.problem = 'This shot has no version that can be opened yet.';
});
// One that is still being read is opened as soon as it can be.
watch(ready, ([latest]) => {
  if (latest && changes.shotId === props.id && !picture.versionId) void openVersion(latest);
});
openExport.value = () => (exporting.value = true);
onUnmounted(() => {
  openExport.value = undefined;
  picture.close();
});

useKeys(
  {
    fit: () => viewer.value?.fit(),
    actual: () => viewer.value?.zoomTo(1),
    zoomBy: (factor) => viewer.value?.zoomBy(factor),
  },
  columns,
);

/** What the checks found in the version's first frame, and what reading this one has met. */
const findings = computed(() => {
  const v = version.value;
  if (!v) return [];
  const first = frame.value === undefined || frame.value === frames.value[0];
  const all = [...(first ? (v.summary?.findings ?? []) : []), ...(picture.opened?.findings ?? [])];
  return [...new Map(all.map((f) => [`${f.code} ${f.message}`, f])).values()];
});
</script>

<template>
  <div class="correct">
    <SideColumn
      v-if="!columns.left.open.value"
      side="left"
      label="the change list"
      key-name="L"
      :open="false"
      @flip="columns.flipLeft()"
    />
    <ElSplitter>
      <ElSplitterPanel
        v-if="columns.left.open.value"
        key="left"
        v-model:size="columns.left.size.value"
        :min="NARROWEST.left"
        max="33%"
      >
        <SideColumn side="left" label="the change list" key-name="L" open @flip="columns.flipLeft()">
          <div class="list">
            <ChangeListPanel :wishes="version?.wishes ?? []" />
            <FindingsPanel :findings="findings" />
          </div>
        </SideColumn>
      </ElSplitterPanel>
      <ElSplitterPanel key="centre">
        <div class="centre">
          <ShotBar :name="shot?.name" :document="changes">
            <ElSelect
              v-if="version"
              :model-value="version.id"
              size="small"
              class="versions"
              aria-label="Version"
              @update:model-value="(id: string) => openVersion(ready.find((v) => v.id === id)!)"
            >
              <ElOption
                v-for="v in ready"
                :key="v.id"
                :value="v.id"
                :label="`v${v.number}, ${v.source === 'render' ? 'rendered' : 'imported'}`"
              />
            </ElSelect>
            <div v-if="frames.length > 1" class="frames" role="group" aria-label="Frame">
              <button
                class="plain-button"
                type="button"
                aria-label="Frame before"
                :disabled="frame === frames[0]"
                @click="goFrame(-1)"
              >
                <ChevronLeft :size="16" />
              </button>
              <span>frame {{ frame }} of {{ frames.length }}</span>
              <button
                class="plain-button"
                type="button"
                aria-label="Frame after"
                :disabled="frame === frames.at(-1)"
                @click="goFrame(1)"
              >
                <ChevronRight :size="16" />
              </button>
            </div>
            <template #end>
              <ElButton size="small" type="primary" :disabled="!version" @click="exporting = true"
                >Export…</ElButton
              >
            </template>
          </ShotBar>
          <ViewBar :zoom="zoomPercent" @fit="viewer?.fit()" @actual="viewer?.zoomTo(1)" />
          <div class="stage-picture">
            <PictureViewer
              ref="viewer"
              :look="view"
              :make-tool="(host) => TOOLS.pick(host, pickTarget)"
              @probe="
                (found, at) => {
                  probe = found;
                  pointer = at;
                }
              "
              @zoomed="zoomPercent = $event"
              @update:divider="view.divider = $event"
            />
            <PointerTag :probe="probe" :at="pointer" />
            <div v-if="picture.progress" class="veil" role="status">
              <p>{{ picture.progress.text }}…</p>
              <ElProgress
                aria-label="Progress"
                :percentage="Math.round(picture.progress.share * 100)"
                :stroke-width="6"
                color="#f0d94a"
                :show-text="false"
              />
            </div>
            <div v-else-if="picture.problem" class="veil" role="alert">
              <p>{{ picture.problem }}</p>
            </div>
          </div>
          <PickBar :probe="probe" />
        </div>
      </ElSplitterPanel>
      <ElSplitterPanel
        v-if="columns.right.open.value"
        key="right"
        v-model:size="columns.right.size.value"
        :min="NARROWEST.right"
        max="40%"
      >
        <SideColumn side="right" label="the open change" key-name="S" open @flip="columns.flipRight()">
          <ChangeSheet />
        </SideColumn>
      </ElSplitterPanel>
    </ElSplitter>
    <SideColumn
      v-if="!columns.right.open.value"
      side="right"
      label="the open change"
      key-name="S"
      :open="false"
      @flip="columns.flipRight()"
    />
  </div>

  <ExportDialog
    v-if="exporting && version"
    :version="version"
    :shot-name="shot!.name"
    :frame="frame"
    @close="exporting = false"
  />
</template>

<style scoped>
.correct {
  display: flex;
  height: 100%;
}
.correct > .el-splitter {
  flex: 1;
  min-width: 0;
}
.correct :deep(.el-splitter-panel) {
  overflow: hidden;
}
/* No bright lines beside the picture. */
.correct :deep(.el-splitter-bar__dragger::before),
.correct :deep(.el-splitter-bar__dragger::after) {
  background-color: var(--room-line);
}
.correct :deep(.el-splitter-bar__dragger:hover::before) {
  background-color: var(--on-room-quiet);
}
.list {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.list > :first-child {
  flex: 1;
  min-height: 0;
}
.centre {
  display: flex;
  height: 100%;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.frames {
  display: flex;
  align-items: center;
  gap: 2px;
  white-space: nowrap;
}
.frames button {
  display: grid;
  padding: 3px;
}
.versions {
  width: 128px;
  flex: none;
}
.stage-picture {
  position: relative;
  overflow: hidden;
  flex: 1;
  min-height: 0;
}
.veil {
  position: absolute;
  inset: 0;
  display: grid;
  align-content: center;
  justify-items: center;
  background: var(--room);
  color: var(--on-room);
}
.veil :deep(.el-progress) {
  width: 260px;
}
</style>
