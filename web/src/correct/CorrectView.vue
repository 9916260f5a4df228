<script setup lang="ts">
import { ElButton } from 'element-plus';
import { Keyboard } from '@lucide/vue';
import { onUnmounted, ref, shallowRef, watch } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import type { Version } from '@zesty-crow/server/contract';
import { bringPlacesOver } from './bring-places-over.ts';
import CorrectStage from './CorrectStage.vue';
import ExportDialog from './ExportDialog.vue';
import type { Probe } from '../picture/messages.ts';
import { notify, notifyError } from '../server/notify.ts';
import { useShot } from '../shot/use-shot.ts';
import ShotBar from '../shot/ShotBar.vue';
import { unfinishedReason } from '../shot/unfinished.ts';
import { useOpenVersion } from '../shot/use-open-version.ts';
import VersionChoice from '../shot/VersionChoice.vue';
import { useTurns } from './use-turns.ts';
import { useChanges } from '../shot/changes/changes.ts';
import ChangeListPanel from './list/ChangeListPanel.vue';
import ChangeSheet from './sheet/ChangeSheet.vue';
import { useView } from '../shot/view.ts';
import FrameRow from './frames/FrameRow.vue';
import { useSequence } from './frames/sequence.ts';
import FindingsPanel from '../shot/FindingsPanel.vue';
import KeySheet from './keys/KeySheet.vue';
import PickBar from './pointer/PickBar.vue';
import StageColumns from '../shot/columns/StageColumns.vue';
import { shareOfWindow, useColumns } from '../shot/columns/use-columns.ts';
import { useKeys } from './keys/use-keys.ts';
import { useShown } from './use-shown.ts';
import ViewBar from './seeing/ViewBar.vue';
import { useScopes } from './seeing/scopes-open.ts';
import RelinkSheet from './list/RelinkSheet.vue';
import TakeChanges from './list/TakeChanges.vue';
import WishPanel from './list/WishPanel.vue';
import VariantChoice from './variants/VariantChoice.vue';
import VariantPanel from './variants/VariantPanel.vue';

const props = defineProps<{ id: string }>();
const changes = useChanges();
const view = useView();

const { shot, load: loadShot } = useShot(props.id);
/** First the picture and the bars, then the list, then the open change. */
const { turn, begin } = useTurns(2);
const stage = ref<InstanceType<typeof CorrectStage>>();
const probe = shallowRef<Probe>();
const columns = useColumns('correct', {
  left: { label: 'the change list', keyName: 'L', narrowest: 208, usual: shareOfWindow(0.165, 208, 260) },
  right: { label: 'the open change', keyName: 'S', narrowest: 258, usual: shareOfWindow(0.2455, 258, 314) },
});
const scopes = useScopes();
const zoomPercent = ref(100);
const exporting = ref(false);
/** All variants are shown in the place of the picture. */
const wall = ref(false);
/** Everything at the pixel under the pointer is told. */
const unfolded = ref(false);
/** Members that this version calls otherwise are being found. */
const relinking = shallowRef<{ version: Version; name: string }[]>();
/** The changes of another shot are being chosen. */
const taking = ref(false);

const visible = shallowRef<Area>();
const show = useShown(visible, zoomPercent);

view.reset();
// Opened before anything is drawn, if the shot is known by then: the worker reads while the page is put together.
const {
  ready,
  version,
  frame,
  frames,
  findings,
  open: openVersion,
  tellNone,
} = useOpenVersion(shot, (at) => {
  // Known before anything else of it.
  changes.frame = at;
  show();
});
const sequence = useSequence();
sequence.setOpener((wanted) => version.value && openVersion(version.value, wanted));
watch([version, frames, frame], ([of, all, at]) => sequence.opened(of, all, at), { immediate: true });

bringPlacesOver(props.id, version);
// The changes are not waited for: the picture is there first.
void changes.load(props.id).catch(notifyError).finally(begin);
void loadShot().then(tellNone);
onUnmounted(() => {
  sequence.forget();
  changes.frame = undefined;
});

const { keys, sheet: keySheet } = useKeys(
  {
    fit: () => stage.value?.fit(),
    actual: () => stage.value?.zoomTo(1),
    zoomBy: (factor) => stage.value?.zoomBy(factor),
    wall: () => (wall.value = !wall.value),
    back: () => (wall.value = false),
    list: () => stage.value?.list(),
    unfold: (on) => (unfolded.value = on),
    scopes: scopes.flip,
  },
  columns,
);

/** Changes of another shot are there: how their members fare here. */
function takenFrom(versions: Version[], name: string): void {
  taking.value = false;
  relinking.value = versions
    .filter((v) => v.state === 'ready')
    .map((version) => ({ version, name: `${name}, v${version.number}` }));
}

/** The server writes exports, and must have the files. */
function beginExport(): void {
  if (version.value?.state === 'ready') exporting.value = true;
  else notify('The files of this version are still being sent. Export when they are there.');
}
</script>

<template>
  <StageColumns :columns="columns">
    <template #left>
      <div v-if="turn >= 1" class="list">
        <ChangeListPanel
          :unfinished="unfinishedReason(version)"
          @relink="relinking = []"
          @take="taking = true"
        />
        <div class="folds scroll">
          <WishPanel :wishes="version?.wishes ?? []" />
          <VariantPanel @wall="wall = true" />
          <FindingsPanel :findings="findings" />
        </div>
      </div>
    </template>
    <div class="centre">
      <ShotBar :name="shot?.name" :document="changes">
        <VariantChoice />
        <VersionChoice :version="version" :ready="ready" @open="openVersion($event)" />
        <template #end>
          <button
            class="plain-button keys"
            type="button"
            title="All keys (key ?)"
            aria-label="All keys"
            @click="keySheet = true"
          >
            <Keyboard :size="16" :stroke-width="1.6" />
          </button>
          <span :title="unfinishedReason(version)">
            <ElButton
              size="small"
              type="primary"
              :disabled="!version || unfinishedReason(version) !== undefined"
              @click="beginExport"
              >Export…</ElButton
            >
          </span>
        </template>
      </ShotBar>
      <ViewBar
        :zoom="zoomPercent"
        :versions="shot?.versions ?? []"
        @fit="stage?.fit()"
        @actual="stage?.zoomTo(1)"
      />
      <CorrectStage
        ref="stage"
        :wall="wall"
        :unfolded="unfolded"
        @probe="probe = $event"
        @visible="visible = $event"
        @zoomed="zoomPercent = $event"
        @close-wall="wall = false"
      />
      <FrameRow v-if="frames.length > 1" :files="version?.files ?? []" />
      <PickBar :probe="probe" />
    </div>
    <template #right><ChangeSheet v-if="turn >= 2" /></template>
  </StageColumns>

  <KeySheet v-if="keySheet" :keys="keys" @close="keySheet = false" />
  <RelinkSheet
    v-if="relinking"
    :versions="shot?.versions ?? []"
    :elsewhere="relinking"
    @close="relinking = undefined"
  />
  <TakeChanges v-if="taking" @close="taking = false" @taken="takenFrom" />
  <ExportDialog
    v-if="exporting && version"
    :version="version"
    :shot-name="shot!.name"
    :frame="frame"
    @close="exporting = false"
  />
</template>

<style scoped>
.list {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.list > :first-child {
  flex: 1;
  min-height: 0;
}
.folds {
  flex: none;
  max-height: 40%;
}
.centre {
  display: flex;
  height: 100%;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.keys {
  display: grid;
  padding: 2px 4px;
}
</style>
