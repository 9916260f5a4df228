<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { useChanges } from '../shot/changes/changes.ts';
import { useView } from '../shot/view.ts';
import PictureViewer from '../viewer/PictureViewer.vue';
import type { Place } from '../viewer/tool.ts';
import FenceHandles from './FenceHandles.vue';
import FrameOver from './frames/FrameOver.vue';
import { useSequence } from './frames/sequence.ts';
import PointerList from './pointer/PointerList.vue';
import PointerTag from './pointer/PointerTag.vue';
import LookCorner from './seeing/LookCorner.vue';
import PinMarks from './seeing/PinMarks.vue';
import ScopeStrip from './seeing/ScopeStrip.vue';
import { useScopes } from './seeing/scopes-open.ts';
import { useStageTools } from './use-stage-tools.ts';
import VariantWall from './variants/VariantWall.vue';

/** The picture with all that lies over it: nothing here makes it jump. */
const props = defineProps<{
  /** All variants are shown in the place of the picture. */
  wall: boolean;
  /** Everything at the pixel under the pointer is told. */
  unfolded: boolean;
}>();
const emit = defineEmits<{
  probe: [probe: Probe | undefined];
  visible: [area: Area];
  zoomed: [percent: number];
  closeWall: [];
}>();
const picture = usePicture();
const changes = useChanges();
const view = useView();
const sequence = useSequence();
const scopes = useScopes();
const makeTool = useStageTools();

const stage = ref<HTMLElement>();
const { height } = useElementSize(stage);
const viewer = ref<InstanceType<typeof PictureViewer>>();
const probe = shallowRef<Probe>();
const pointer = shallowRef<Place>({ x: 0, y: 0 });
const placed = shallowRef<Area>();
const middle = shallowRef<Place>();
const busy = ref(false);
/** The list of what lies at a place, where it was asked for. */
const asked = shallowRef<{ probe: Probe; at: Place }>();

/** What the picture leaves free below it, and what of it is on the screen; both in screen pixels. */
const room = computed(() => {
  const { y0 = 0, y1 = 0 } = placed.value ?? {};
  return {
    free: Math.max(0, height.value - y1),
    shown: Math.max(0, Math.min(height.value, y1) - Math.max(0, y0)),
  };
});
/** Height of the stage that the scopes leave; they stand on its lower edge. */
const strip = ref<InstanceType<typeof ScopeStrip>>();
const left = computed(() => height.value - (scopes.open.value ? (strip.value?.height ?? 0) : 0));
const tagged = computed(
  () => view.tool === 'pick' && !props.wall && !busy.value && !view.adjusting && !view.holdBefore,
);

// A pick that was clicked in the list is moved into sight.
watch(
  () => view.revealed,
  (area) => {
    if (area) viewer.value?.reveal(area);
  },
);

/** What is being waited for, in words beside the picture. */
const reading = computed(() => {
  const { progress, cast } = picture;
  if (progress) return `reading the picture… ${Math.round(progress.share * 100)} %`;
  const coming = cast.filter((l) => l.state === 'coming').length;
  return `reading IDs… ${cast.length - coming} of ${cast.length}`;
});
function found(next: Probe | undefined, at: Place): void {
  probe.value = next;
  pointer.value = at;
  emit('probe', next);
}
defineExpose({
  fit: () => viewer.value?.fit(),
  zoomTo: (k: number) => viewer.value?.zoomTo(k),
  zoomBy: (factor: number) => viewer.value?.zoomBy(factor),
  /** All that lies under the pointer, to be taken from. */
  list: () => (asked.value = probe.value && { probe: probe.value, at: pointer.value }),
});
</script>

<template>
  <div ref="stage" class="stage-picture">
    <PictureViewer
      ref="viewer"
      :picture="picture"
      :view="view"
      :make-tool="makeTool"
      @probe="found"
      @menu="(at, place) => (asked = at && { probe: at, at: place })"
      @visible="emit('visible', $event)"
      @zoomed="emit('zoomed', $event)"
      @placed="placed = $event"
      @aimed="middle = $event"
      @busy="busy = $event"
      @update:divider="view.divider = $event"
    >
      <template #over="{ placement, size }">
        <PinMarks :placement="placement" />
        <FrameOver :placement="placement" />
        <FenceHandles
          v-if="view.fenceShape && !view.holdBefore && !sequence.over"
          :placement="placement"
          :size="size"
        />
      </template>
    </PictureViewer>
    <LookCorner :placed="placed" :height="left" />
    <ScopeStrip v-if="scopes.open.value" ref="strip" :probe="probe" :free="room.free" :shown="room.shown" />
    <VariantWall v-if="wall" :frame="changes.frame" @close="emit('closeWall')" />
    <PointerList
      v-if="asked"
      :key="`${asked.at.x} ${asked.at.y}`"
      :probe="asked.probe"
      :at="asked.at"
      @close="asked = undefined"
    />
    <PointerTag
      v-else-if="tagged && (view.tags || unfolded)"
      :probe="probe"
      :at="pointer"
      :middle="middle"
      :unfolded="unfolded"
    />
    <div v-if="picture.problem" class="veil" role="alert">
      <p>{{ picture.problem }}</p>
    </div>
    <p v-else-if="picture.reading" class="reading" role="status">{{ reading }}</p>
  </div>
</template>

<style scoped>
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
  background: var(--over);
  color: var(--on-over);
  font-size: 13px;
  pointer-events: none;
}
</style>
