<script setup lang="ts">
import { ElButton, ElSplitter, ElSplitterPanel } from 'element-plus';
import { Keyboard } from '@lucide/vue';
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import { listedChanges, type Heading, type ListedChange } from '@zesty-crow/core/changes';
import { through } from '@zesty-crow/core/colour';
import { halvingsAt, type Area } from '@zesty-crow/core/planes';
import type { Version } from '@zesty-crow/server/contract';
import { bringPlacesOver } from './bring-places-over.ts';
import ExportDialog from './ExportDialog.vue';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { notify, notifyError } from '../server/notify.ts';
import { useShot } from '../shot/use-shot.ts';
import ShotBar from '../shot/ShotBar.vue';
import { useOpenVersion } from '../shot/use-open-version.ts';
import VersionChoice from '../shot/VersionChoice.vue';
import { useTurns } from './use-turns.ts';
import PictureViewer from '../viewer/PictureViewer.vue';
import type { Place, ToolHost } from '../viewer/tool.ts';
import { chosenTool } from '../viewer/tools/choice.ts';
import { TOOLS } from '../viewer/tools/registry.ts';
import { useChanges } from '../shot/changes/changes.ts';
import ChangeListPanel from './list/ChangeListPanel.vue';
import ChangeSheet from './sheet/ChangeSheet.vue';
import { useLook } from '../shot/look.ts';
import FenceHandles from './FenceHandles.vue';
import FrameOver from './frames/FrameOver.vue';
import FrameRow from './frames/FrameRow.vue';
import { useSequence } from './frames/sequence.ts';
import FindingsPanel from '../shot/FindingsPanel.vue';
import KeySheet from './keys/KeySheet.vue';
import PickBar from './pointer/PickBar.vue';
import { useBrushTarget, useEncloseTarget, usePickTarget } from './pointer/pick-target.ts';
import PointerList from './pointer/PointerList.vue';
import PointerTag from './pointer/PointerTag.vue';
import PinMarks from './seeing/PinMarks.vue';
import ScopePanel from './seeing/ScopePanel.vue';
import SideColumn from './SideColumn.vue';
import { NARROWEST, useColumns } from './use-columns.ts';
import { useKeys } from './keys/use-keys.ts';
import ViewBar from './seeing/ViewBar.vue';
import RelinkSheet from './list/RelinkSheet.vue';
import TakeChanges from './list/TakeChanges.vue';
import VariantChoice from './variants/VariantChoice.vue';
import VariantPanel from './variants/VariantPanel.vue';
import VariantWall from './variants/VariantWall.vue';

const props = defineProps<{ id: string }>();
const picture = usePicture();
const changes = useChanges();
const view = useLook();

const { shot, load: loadShot } = useShot(props.id);
/** First the picture and the bars, then the list, then the open change. */
const { turn, begin } = useTurns(2);
const viewer = ref<InstanceType<typeof PictureViewer>>();
const probe = shallowRef<Probe>();
const pointer = shallowRef<Place>({ x: 0, y: 0 });
const columns = useColumns();
const [pickTarget, encloseTarget, brushTarget] = [usePickTarget(), useEncloseTarget(), useBrushTarget()];
/** Hands a colour of the picture over to what asked for it: of the pixel, or of the member there. */
async function taken(found: Probe): Promise<void> {
  const { toScreen } = picture.opened ?? {};
  const own = found.layers.find((l) => l.layer === view.layer)?.ids[0];
  // Colours that are chosen are those of the screen.
  const colour = view.takingPart
    ? own && (await picture.meanOf(view.layer!, [own.id]))
    : toScreen
      ? through(toScreen, found.after)
      : found.after;
  if (colour) view.colourTaken(colour, { x: found.x, y: found.y });
  else notify('Nothing that has an ID is there.');
}
const makeTool = (host: ToolHost) =>
  chosenTool(
    {
      pick: TOOLS.pick(host, pickTarget),
      lasso: TOOLS.lasso(host, encloseTarget),
      box: TOOLS.box(host, encloseTarget),
      brush: TOOLS.brush(host, brushTarget),
      sample: TOOLS.sample(host, { take: (found) => void taken(found).catch(notifyError) }),
      value: TOOLS.value(host, {
        begin: () => view.dragged?.begin(),
        move: (by) => view.dragged?.move(by),
        end: () => view.dragged?.end(),
      }),
    },
    () => view.tool,
  );
/** The list of what lies at a place, where it was asked for. */
const asked = shallowRef<{ probe: Probe; at: Place }>();
const zoomPercent = ref(100);
const exporting = ref(false);
/** All variants are shown in the place of the picture. */
const wall = ref(false);
/** Members that this version calls otherwise are being found. */
const relinking = shallowRef<{ version: Version; name: string }[]>();
/** The changes of another shot are being chosen. */
const taking = ref(false);

const visible = shallowRef<Area>();
/** The changes as they are to be seen now. */
function shownChanges(variant = changes.variantId): ListedChange[] {
  const list = JSON.parse(
    JSON.stringify(listedChanges(changes.list, { variant, frame: changes.frame })),
  ) as ListedChange[];
  const { openHeading: over } = changes;
  const alone = (c: ListedChange) => (over ? c.over?.id === over.id : c.id === changes.openId);
  return view.alone ? list.map((c) => ({ ...c, on: c.on && alone(c) })) : list;
}
const picking = () => view.showPicks && !view.adjusting;
/** Tells the picture all that decides what is on the screen. */
const show = () =>
  picture.show({
    changes: shownChanges(),
    openChange: changes.openId,
    look: view.look,
    display: { ...view.display, table: view.table?.takes },
    against: { ...view.against },
    othersChanges: view.against.kind === 'variant' ? shownChanges(view.against.key) : undefined,
    gain: view.gain,
    warnings: [...view.warnings],
    layer: view.layer,
    limitOf: view.limitOf,
    ground: view.ground,
    openHeading: changes.openHeading && (JSON.parse(JSON.stringify(changes.openHeading)) as Heading),
    wanted: {
      mask: view.beside === 'mask',
      before: view.holdBefore || view.divider !== undefined || view.beside === 'before',
      // While a value is dragged, neither is shown.
      dim: picking() && view.look === 'picture' && changes.owner !== undefined,
      outline: picking(),
      warn: view.warnings.length > 0 && view.look === 'picture',
    },
    visible: visible.value,
    scale: (zoomPercent.value / 100) * devicePixelRatio,
  });
watch(
  [
    () => changes.shown,
    () => changes.openId,
    () => view.look,
    () => view.display,
    () => view.against,
    () => view.gain,
    () => view.warnings,
    () => view.layer,
    () => view.limitOf,
    () => view.holdBefore,
    () => view.divider === undefined,
    picking,
    () => view.alone,
    () => view.beside,
    () => view.ground,
    visible,
    () => halvingsAt((zoomPercent.value / 100) * devicePixelRatio),
  ],
  show,
  { deep: true },
);

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
    fit: () => viewer.value?.fit(),
    actual: () => viewer.value?.zoomTo(1),
    zoomBy: (factor) => viewer.value?.zoomBy(factor),
    wall: () => (wall.value = !wall.value),
    back: () => (wall.value = false),
    list: () => (asked.value = probe.value && { probe: probe.value, at: pointer.value }),
  },
  columns,
);

// A pick that was clicked in the list is moved into sight.
watch(
  () => view.revealed,
  (area) => {
    if (area) viewer.value?.reveal(area);
  },
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

/** What is being waited for, in words beside the picture. */
const reading = computed(() => {
  const { progress, cast } = picture;
  if (progress) return `reading the picture… ${Math.round(progress.share * 100)} %`;
  const left = cast.filter((l) => l.state === 'coming').length;
  return `reading IDs… ${cast.length - left} of ${cast.length}`;
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
          <div v-if="turn >= 1" class="list">
            <ChangeListPanel :wishes="version?.wishes ?? []" @relink="relinking = []" @take="taking = true" />
            <VariantPanel @wall="wall = true" />
            <FindingsPanel :findings="findings" />
          </div>
        </SideColumn>
      </ElSplitterPanel>
      <ElSplitterPanel key="centre">
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
              <ElButton size="small" type="primary" :disabled="!version" @click="beginExport"
                >Export…</ElButton
              >
            </template>
          </ShotBar>
          <ViewBar
            :zoom="zoomPercent"
            :versions="shot?.versions ?? []"
            @fit="viewer?.fit()"
            @actual="viewer?.zoomTo(1)"
          />
          <div class="stage-picture">
            <PictureViewer
              ref="viewer"
              :look="view"
              :make-tool="makeTool"
              @probe="
                (found, at) => {
                  probe = found;
                  pointer = at;
                }
              "
              @menu="(found, at) => (asked = found && { probe: found, at })"
              @visible="visible = $event"
              @zoomed="zoomPercent = $event"
              @update:divider="view.divider = $event"
            >
              <template #over="{ place, size }">
                <PinMarks :place="place" />
                <FrameOver :place="place" />
                <FenceHandles
                  v-if="view.fenceShape && !view.holdBefore && !sequence.over"
                  :place="place"
                  :size="size"
                />
              </template>
            </PictureViewer>
            <VariantWall v-if="wall" :frame="changes.frame" @close="wall = false" />
            <PointerList
              v-if="asked"
              :key="`${asked.at.x} ${asked.at.y}`"
              :probe="asked.probe"
              :at="asked.at"
              @close="asked = undefined"
            />
            <PointerTag v-else-if="view.tool === 'pick' && !wall" :probe="probe" :at="pointer" />
            <div v-if="picture.problem" class="veil" role="alert">
              <p>{{ picture.problem }}</p>
            </div>
            <p v-else-if="picture.reading" class="reading" role="status">{{ reading }}</p>
          </div>
          <FrameRow v-if="frames.length > 1" :files="version?.files ?? []" />
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
          <div class="list">
            <ChangeSheet v-if="turn >= 2" />
            <ScopePanel v-if="turn >= 2" :probe="probe" />
          </div>
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
.keys {
  display: grid;
  padding: 2px 4px;
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
.reading {
  position: absolute;
  left: 10px;
  bottom: 10px;
  margin: 0;
  padding: 2px 9px;
  background: rgb(27 27 27 / 82%);
  color: #e4e4e4;
  font-size: 13px;
  pointer-events: none;
}
</style>
