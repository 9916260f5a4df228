<script setup lang="ts">
import { onKeyStroke } from '@vueuse/core';
import { ArrowLeft } from '@lucide/vue';
import type { WallPass } from '@zesty-crow/core/inspect';
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import { computed, onMounted, ref, watch } from 'vue';
import type { PassPicture as Shown } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import PassPicture from './PassPicture.vue';
import { rangeText, valueText } from './range-text.ts';

/** One pass as large as there is room, channel by channel, with its values under the pointer. */
const props = defineProps<{ pass: WallPass }>();
const emit = defineEmits<{ close: [] }>();
const picture = usePicture();
const channel = ref<string>();
const shown = ref<Shown>();
const stage = ref<HTMLElement>();
const place = ref({ x: 0, y: 0, k: 1 });
const values = ref<{ label: string; text: string }[]>([]);
const at = ref<{ x: number; y: number }>();
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
  .on('zoom', (e: D3ZoomEvent<HTMLElement, unknown>) => (place.value = e.transform));
onMounted(() => select(stage.value!).call(behaviour).on('dblclick.zoom', null));
const fit = () => select(stage.value!).call(behaviour.transform, zoomIdentity);

/** The pixel under the pointer: the picture stands in the middle, as large as fits. */
function pixelAt(e: PointerEvent): { x: number; y: number } | undefined {
  const { width, height } = picture.opened!;
  const box = stage.value!.getBoundingClientRect();
  const scale = Math.min(box.width / width, box.height / height);
  const { x, y, k } = place.value;
  const px = ((e.clientX - box.left - x) / k - (box.width - width * scale) / 2) / scale;
  const py = ((e.clientY - box.top - y) / k - (box.height - height * scale) / 2) / scale;
  const inside = px >= 0 && py >= 0 && px < width && py < height;
  return inside ? { x: Math.floor(px), y: Math.floor(py) } : undefined;
}
let asked = 0;
async function point(e: PointerEvent): Promise<void> {
  const pixel = picture.opened && pixelAt(e);
  at.value = pixel;
  const own = ++asked;
  const found = pixel ? await valuesAt(pixel) : [];
  if (own === asked) values.value = found;
}
/** What is at a pixel: of IDs their names and coverages, of everything else the numbers. */
async function valuesAt({ x, y }: { x: number; y: number }): Promise<{ label: string; text: string }[]> {
  const { name, look } = props.pass;
  if (look === 'ids' && channel.value === undefined) {
    const found = await picture.probe(x, y, name);
    const ids = found?.layers.find((l) => l.layer === name)?.ids ?? [];
    return ids.map((i) => ({ label: i.name, text: `${Number((100 * i.coverage).toFixed(1))} %` }));
  }
  const all = await picture.passValues(name, x, y);
  const wanted = all.filter((v) => channel.value === undefined || v.channel === channel.value);
  return wanted.map((v) => ({ label: letter(v.channel), text: valueText(v.value) }));
}

onKeyStroke('Escape', () => emit('close'));
onKeyStroke('f', () => fit());
</script>

<template>
  <section class="large" :aria-label="pass.name">
    <header class="room-bar">
      <button class="plain-button back" type="button" title="Back to the wall (Esc)" @click="emit('close')">
        <ArrowLeft :size="16" /> All passes
      </button>
      <strong class="cut">{{ pass.name === 'picture' ? 'Picture' : pass.name }}</strong>
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
      <span v-if="shown?.range" class="quiet">black to white: {{ rangeText(shown.range) }}</span>
      <span class="space" />
      <button class="plain-button" type="button" title="Show all of it (F)" @click="fit()">Fit</button>
    </header>
    <div ref="stage" class="stage" @pointermove="point" @pointerleave="at = undefined">
      <div class="sheet" :style="{ transform: `translate(${place.x}px, ${place.y}px) scale(${place.k})` }">
        <PassPicture
          :name="pass.name"
          :side="side"
          :channel="channel"
          :class="{ pixels: place.k > 3 }"
          @shown="shown = $event"
        />
      </div>
    </div>
    <footer class="room-bar values" aria-live="off">
      <template v-if="at && values.length">
        <span>{{ at.x }}, {{ at.y }}</span>
        <span v-for="v in values" :key="v.label"
          ><span class="quiet">{{ v.label }}</span> {{ v.text }}</span
        >
      </template>
      <span v-else class="quiet">{{ pass.purpose }}</span>
    </footer>
  </section>
</template>

<style scoped>
.large {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.back {
  display: flex;
  align-items: center;
  gap: 5px;
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
.space {
  flex: 1;
}
.stage {
  flex: 1;
  min-height: 0;
  overflow: hidden;
  cursor: crosshair;
}
.sheet {
  width: 100%;
  height: 100%;
  transform-origin: 0 0;
}
.pixels {
  image-rendering: pixelated;
}
.values {
  min-height: 30px;
}
</style>
