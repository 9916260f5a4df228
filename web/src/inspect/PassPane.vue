<script setup lang="ts">
import type { WallPass } from '@zesty-crow/core/inspect';
import type { Area } from '@zesty-crow/core/planes';
import { select } from 'd3-selection';
import { zoom, zoomTransform, type D3ZoomEvent, type ZoomTransform } from 'd3-zoom';
import { computed, onMounted, ref, watch } from 'vue';
import type { PassPicture as Shown } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import PassPicture from './PassPicture.vue';
import { rangeText, valueText } from './range-text.ts';

/** One pass as large as there is room, channel by channel, with its values under the pointer. */
const props = defineProps<{
  pass: WallPass;
  /** Where the picture is, shared by panes beside each other. */
  place: ZoomTransform;
  /** Rectangles of the picture that are pointed at. */
  places?: readonly Area[] | undefined;
}>();
const emit = defineEmits<{ move: [place: ZoomTransform] }>();
const channel = defineModel<string>('channel');
/** The pixel under the pointer, in this pane or the one beside it. */
const at = defineModel<{ x: number; y: number }>('at');
const picture = usePicture();
const shown = ref<Shown>();
const stage = ref<HTMLElement>();
const values = ref<{ label: string; text: string }[]>([]);
/** As many pixels as the window can show, and no more than there are. */
const side = computed(() => Math.max(picture.opened?.width ?? 0, picture.opened?.height ?? 0));
/** A channel's name without what all of the pass begin with. */
const letter = (name: string) =>
  name.startsWith(props.pass.name) && name !== props.pass.name
    ? name.slice(props.pass.name.length).replace(/^\./, '')
    : name.slice(name.lastIndexOf('.') + 1);

watch(
  () => props.pass.name,
  () => (channel.value = undefined),
);

const behaviour = zoom<HTMLElement, unknown>()
  .scaleExtent([1, 64])
  .on('zoom', (e: D3ZoomEvent<HTMLElement, unknown>) => {
    if (e.sourceEvent) emit('move', e.transform);
  });
onMounted(() => {
  select(stage.value!).call(behaviour).on('dblclick.zoom', null);
  watch(
    () => props.place,
    (place) => {
      if (String(zoomTransform(stage.value!)) !== String(place))
        select(stage.value!).call(behaviour.transform, place);
    },
    { immediate: true },
  );
});

/** Where the picture stands in the stage at no zoom: in the middle, as large as fits. */
function fitted(): { left: number; top: number; scale: number } {
  const { width, height } = picture.opened!;
  const box = stage.value!.getBoundingClientRect();
  const scale = Math.min(box.width / width, box.height / height);
  return { left: (box.width - width * scale) / 2, top: (box.height - height * scale) / 2, scale };
}
/** The pixel under the pointer. */
function pixelAt(e: PointerEvent): { x: number; y: number } | undefined {
  const { width, height } = picture.opened!;
  const box = stage.value!.getBoundingClientRect();
  const { left, top, scale } = fitted();
  const [u, v] = props.place.invert([e.clientX - box.left, e.clientY - box.top]);
  const [px, py] = [(u - left) / scale, (v - top) / scale];
  const inside = px >= 0 && py >= 0 && px < width && py < height;
  return inside ? { x: Math.floor(px), y: Math.floor(py) } : undefined;
}
function point(e: PointerEvent): void {
  const next = picture.opened && pixelAt(e);
  if (next?.x !== at.value?.x || next?.y !== at.value?.y) at.value = next;
}
let asked = 0;
watch([at, channel, () => props.pass.name], async ([pixel]) => {
  const own = ++asked;
  const found = pixel ? await valuesAt(pixel) : [];
  if (own === asked) values.value = found;
});
/** What is at a pixel: of IDs their names and coverages, of everything else the numbers. */
async function valuesAt({ x, y }: { x: number; y: number }): Promise<{ label: string; text: string }[]> {
  const { name, shownAs } = props.pass;
  if (shownAs === 'ids' && channel.value === undefined) {
    const found = await picture.probe(x, y, name);
    const ids = found?.layers.find((l) => l.layer === name)?.ids ?? [];
    return ids.map((i) => ({ label: i.name, text: `${Number((100 * i.coverage).toFixed(1))} %` }));
  }
  const all = await picture.passValues(name, x, y);
  const wanted = all.filter((v) => channel.value === undefined || v.channel === channel.value);
  return wanted.map((v) => ({ label: letter(v.channel), text: valueText(v.value) }));
}

/** Rectangles that are pointed at, in the picture's own pixels, never so small that they are not seen. */
const marks = computed(() => {
  const least = Math.max(picture.opened?.width ?? 0, picture.opened?.height ?? 0) / 80;
  return (props.places ?? []).slice(0, 500).map((a) => {
    const grow = (from: number, to: number) => Math.max(0, (least - (to - from)) / 2);
    const [gx, gy] = [grow(a.x0, a.x1), grow(a.y0, a.y1)];
    return { x: a.x0 - gx, y: a.y0 - gy, width: a.x1 - a.x0 + 2 * gx, height: a.y1 - a.y0 + 2 * gy };
  });
});
</script>

<template>
  <div class="pane">
    <div class="room-bar">
      <slot />
      <div class="group channels" role="group" aria-label="Channels">
        <button
          class="plain-button"
          type="button"
          :aria-pressed="channel === undefined"
          @click="channel = undefined"
        >
          Together
        </button>
        <button
          v-for="c in pass.channels"
          :key="c"
          class="plain-button"
          type="button"
          :aria-pressed="channel === c"
          :title="c"
          @click="channel = c"
        >
          {{ letter(c) }}
        </button>
      </div>
      <span v-if="shown?.range" class="quiet cut">black to white: {{ rangeText(shown.range) }}</span>
    </div>
    <div ref="stage" class="stage" @pointermove="point" @pointerleave="at = undefined">
      <div class="sheet" :style="{ transform: `translate(${place.x}px, ${place.y}px) scale(${place.k})` }">
        <PassPicture
          :name="pass.name"
          :side="side"
          :channel="channel"
          :class="{ pixels: place.k > 3 }"
          @shown="shown = $event"
        />
        <svg
          v-if="marks.length && picture.opened"
          class="marks"
          :viewBox="`0 0 ${picture.opened.width} ${picture.opened.height}`"
          aria-hidden="true"
        >
          <g v-for="(m, i) in marks" :key="i">
            <rect v-bind="m" class="under" />
            <rect v-bind="m" class="over" />
          </g>
        </svg>
      </div>
    </div>
    <footer class="room-bar values" aria-live="off">
      <template v-if="at && values.length">
        <span>{{ at.x }}, {{ at.y }}</span>
        <span v-for="v in values" :key="v.label" class="value"
          ><span class="quiet">{{ v.label }}</span> {{ v.text }}</span
        >
      </template>
      <span v-else class="quiet">{{ pass.purpose }}</span>
    </footer>
  </div>
</template>

<style scoped>
.pane {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.channels {
  overflow: auto;
  scrollbar-width: none;
}
.channels button {
  padding: 3px 8px;
}
.channels button[aria-pressed='true'] {
  background: var(--crow-soft);
}
.quiet {
  color: var(--on-room-quiet);
}
.stage {
  flex: 1;
  min-height: 0;
  overflow: hidden;
  cursor: crosshair;
}
.sheet {
  position: relative;
  width: 100%;
  height: 100%;
  transform-origin: 0 0;
}
.marks {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.marks rect {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.marks .under {
  stroke: #000;
  stroke-width: 3px;
}
.marks .over {
  stroke: #fff;
  stroke-width: 1px;
}
.pixels :deep(canvas) {
  image-rendering: pixelated;
}
.values {
  min-height: 30px;
  overflow: hidden;
}
.value {
  white-space: nowrap;
}
</style>
