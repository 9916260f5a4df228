<script setup lang="ts">
import { ElAlert, ElButton, ElDialog, ElInputNumber, ElOption, ElProgress, ElSelect } from 'element-plus';
import { Redo2, Undo2 } from '@lucide/vue';
import { computed, onMounted, onUnmounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import ExportDialog from '../export/ExportDialog.vue';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { api, type Shot, type Version } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';
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
const rendering = ref(false);
const renderInput = ref({ width: 960, height: 540, samples: 64 });

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
async function openVersion(v: Version): Promise<void> {
  await picture.open(v);
  pushChanges();
  pushLook();
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

async function startRender(): Promise<void> {
  rendering.value = false;
  await api.render(props.id, renderInput.value).catch(notifyError);
}
const findings = computed(() => picture.opened?.findings.filter((f) => f.severity !== 'info') ?? []);
</script>

<template>
  <div class="correct">
    <aside class="left"><ChangeListPanel /></aside>
    <div class="centre">
      <header class="title">
        <h1 class="cut" :title="shot?.name">{{ shot?.name }}</h1>
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
        <ElButton v-if="shot?.hasScene" size="small" @click="rendering = true">Render again…</ElButton>
        <span class="space" />
        <span class="saving" aria-live="polite">
          {{ changes.saving === 'saving' ? 'Saving…' : changes.saving === 'unsaved' ? '' : 'All saved' }}
        </span>
        <ElButton v-if="changes.saving === 'unsaved'" size="small" type="danger" @click="changes.saveAgain()"
          >Not saved. Save again</ElButton
        >
        <button
          class="plain-button step"
          type="button"
          :disabled="changes.undoLabel === undefined"
          :title="changes.undoLabel ? `Undo: ${changes.undoLabel} (Ctrl+Z)` : 'Nothing to undo'"
          aria-label="Undo"
          @click="changes.undo()"
        >
          <Undo2 :size="18" :stroke-width="1.6" />
        </button>
        <button
          class="plain-button step"
          type="button"
          :disabled="changes.redoLabel === undefined"
          :title="changes.redoLabel ? `Redo: ${changes.redoLabel} (Ctrl+Shift+Z)` : 'Nothing to redo'"
          aria-label="Redo"
          @click="changes.redo()"
        >
          <Redo2 :size="18" :stroke-width="1.6" />
        </button>
        <ElButton size="small" type="primary" :disabled="!version" @click="exporting = true"
          >Export…</ElButton
        >
      </header>
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
      @close="exporting = false"
    />
    <ElDialog v-model="rendering" title="Render again" width="360">
      <p class="render-note">Renders the scene with its ID passes into a new version. The changes stay.</p>
      <div class="render-grid">
        <label for="render-width">Width</label>
        <ElInputNumber
          id="render-width"
          v-model="renderInput.width"
          :min="16"
          :max="8192"
          :step="16"
          step-strictly
          size="small"
        /><span>px</span>
        <label for="render-height">Height</label>
        <ElInputNumber
          id="render-height"
          v-model="renderInput.height"
          :min="16"
          :max="8192"
          :step="1"
          size="small"
        /><span>px</span>
        <label for="render-samples">Samples</label>
        <ElInputNumber
          id="render-samples"
          v-model="renderInput.samples"
          :min="1"
          :max="65536"
          :step="16"
          size="small"
        /><span>a pixel</span>
      </div>
      <template #footer>
        <ElButton @click="rendering = false">Cancel</ElButton>
        <ElButton type="primary" @click="startRender">Render</ElButton>
      </template>
    </ElDialog>
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
.title {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 7px 12px;
  background: var(--room-deep);
  color: var(--on-room);
}
h1 {
  margin: 0;
  font-size: 17px;
  font-weight: 500;
}
.versions {
  width: 128px;
  flex: none;
}
.space {
  flex: 1;
}
.saving {
  color: var(--on-room-quiet);
  font-size: 13px;
  white-space: nowrap;
}
.step {
  display: grid;
  color: var(--on-room);
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
.render-note {
  margin: 0 0 14px;
}
.render-grid {
  display: grid;
  grid-template-columns: 80px auto 1fr;
  gap: 10px;
  align-items: center;
}
</style>
