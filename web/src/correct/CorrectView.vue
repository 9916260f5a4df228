<script setup lang="ts">
import { ElAlert, ElButton, ElOption, ElProgress, ElSelect } from 'element-plus';
import { ChevronLeft, ChevronRight } from '@lucide/vue';
import { computed, onMounted, onUnmounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import ExportDialog from '../export/ExportDialog.vue';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import type { Shot, Version } from '@zesty-crow/server/contract';
import { api } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';
import ShotBar from '../shot/ShotBar.vue';
import { openExport } from '../shell/stages.ts';
import PictureViewer from '../viewer/PictureViewer.vue';
import { useChanges } from './changes.ts';
import ChangeListPanel from './ChangeListPanel.vue';
import ChangeSheet from './ChangeSheet.vue';
import { useLook } from './look.ts';
import PickBar from './PickBar.vue';
import PointerReadout from './PointerReadout.vue';
import { useKeys } from './use-keys.ts';
import ViewBar from './ViewBar.vue';

const props = defineProps<{ id: string }>();
const router = useRouter();
const picture = usePicture();
const changes = useChanges();
const view = useLook();

const shot = ref<Shot>();
const viewer = ref<InstanceType<typeof PictureViewer>>();
const probe = ref<Probe>();
const zoomPercent = ref(100);
const exporting = ref(false);

const ready = computed(() => shot.value?.versions.filter((v) => v.state === 'ready') ?? []);
const version = computed(() => ready.value.find((v) => v.id === picture.versionId));

async function loadShot(): Promise<void> {
  try {
    shot.value = await api.shot(props.id);
  } catch (error) {
    notifyError(error);
    void router.replace('/');
  }
}
async function openVersion(v: Version, wanted?: number): Promise<void> {
  const numbers = framesOf(v);
  frame.value = wanted !== undefined && numbers.includes(wanted) ? wanted : numbers[0];
  await picture.open(v, frame.value);
  pushChanges();
  pushLook();
}
const framesOf = (v: Version): number[] =>
  [...new Set(v.files.flatMap((f) => (f.role === 'picture' && f.frame !== null ? [f.frame] : [])))].sort(
    (a, b) => a - b,
  );
const frame = ref<number>();
const frames = computed(() => (version.value ? framesOf(version.value) : []));
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

const stopListening = listen({ shot: (id) => void (id === props.id && loadShot()) });

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
openExport.value = () => (exporting.value = true);
onUnmounted(() => {
  stopListening();
  openExport.value = undefined;
  picture.close();
});

useKeys({
  fit: () => viewer.value?.fit(),
  actual: () => viewer.value?.zoomTo(1),
  zoomBy: (factor) => viewer.value?.zoomBy(factor),
});

const findings = computed(() => picture.opened?.findings.filter((f) => f.severity !== 'info') ?? []);
</script>

<template>
  <div class="correct">
    <aside class="left"><ChangeListPanel :wishes="version?.wishes ?? []" /></aside>
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
      <ViewBar />
      <div class="stage-picture">
        <PictureViewer ref="viewer" @probe="probe = $event" @zoomed="zoomPercent = $event" />
        <div v-if="picture.progress" class="veil" role="status">
          <p>{{ picture.progress.text }}…</p>
          <ElProgress
            :percentage="Math.round(picture.progress.share * 100)"
            :stroke-width="6"
            color="#f0d94a"
            :show-text="false"
          />
        </div>
        <div v-else-if="picture.problem" class="veil" role="alert">
          <p>{{ picture.problem }}</p>
        </div>
        <div v-if="findings.length" class="findings">
          <ElAlert
            v-for="f in findings"
            :key="f.code + f.message"
            :type="f.severity === 'error' ? 'error' : 'warning'"
            :title="f.message"
            show-icon
          />
        </div>
      </div>
      <PickBar :zoom="zoomPercent" @fit="viewer?.fit()" @actual="viewer?.zoomTo(1)" />
      <PointerReadout :probe="probe" />
    </div>
    <aside class="right"><ChangeSheet /></aside>

    <ExportDialog
      v-if="exporting && version"
      :version="version"
      :shot-name="shot!.name"
      :frame="frame"
      @close="exporting = false"
    />
  </div>
</template>

<style scoped>
.correct {
  display: grid;
  grid-template-columns: 256px minmax(0, 1fr) 312px;
  height: 100%;
}
.left {
  background: var(--room-deep);
  min-height: 0;
  border-right: 1px solid var(--room-line);
}
.right {
  min-height: 0;
}
.centre {
  display: flex;
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
.findings {
  position: absolute;
  left: 12px;
  right: 12px;
  bottom: 12px;
  display: grid;
  gap: 6px;
}
</style>
