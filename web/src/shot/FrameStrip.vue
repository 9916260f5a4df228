<script lang="ts">
/** What is to be seen of a frame in the strip. */
export interface FrameMarks {
  /** It lies beyond the in or the out point. */
  outside?: boolean;
  /** Its corrected picture is there. */
  ready?: boolean;
  /** The mask of the open change leaps here. */
  leap?: boolean;
  /** Something has a key here. */
  key?: boolean;
  /** Why its corrected picture cannot be had. */
  problem?: string | undefined;
}
</script>

<script setup lang="ts">
import type { StoredFile } from '@zesty-crow/server/contract';
import { computed, nextTick, ref, watch } from 'vue';
import { fileUrl } from '../server/api.ts';

/** The frames of a sequence in a row, each with its picture where there is one; gaps are shown as gaps. */
const props = defineProps<{
  frames: readonly number[];
  frame: number | undefined;
  files: readonly StoredFile[];
  marks?: ReadonlyMap<number, FrameMarks>;
}>();
const emit = defineEmits<{
  open: [frame: number];
  /** The pointer is drawn over it with its button down. */
  scrub: [frame: number];
}>();
const strip = ref<HTMLElement>();

const pictures = computed(
  () =>
    new Map(props.files.flatMap((f) => (f.role === 'preview' && f.frame !== null ? [[f.frame, f.id]] : []))),
);
/** Frames and the gaps between them. */
const cells = computed(() =>
  props.frames.flatMap((n, i): { frame?: number; from?: number; to?: number }[] => {
    const last = props.frames[i - 1];
    const gap = last !== undefined && n > last + 1 ? [{ from: last + 1, to: n - 1 }] : [];
    return [...gap, { frame: n }];
  }),
);
/** Widths of cells and of the room between them, as the styles say. */
const [CELL, GAP, BETWEEN] = [72, 48, 3];
/** Where the middle of each frame's cell is, and how wide all are together. */
const layout = computed(() => {
  const middles = new Map<number, number>();
  let x = 0;
  for (const c of cells.value) {
    const wide = c.frame === undefined ? GAP : CELL;
    if (c.frame !== undefined) middles.set(c.frame, x + wide / 2);
    x += wide + BETWEEN;
  }
  return { middles, width: Math.max(0, x - BETWEEN) };
});
const marksOf = (frame: number): FrameMarks => props.marks?.get(frame) ?? {};
const told = (frame: number) => {
  const { leap, key, problem } = marksOf(frame);
  return [problem, leap ? 'The mask leaps here' : '', key ? 'Something has a key here' : '']
    .filter(Boolean)
    .join('. ');
};
let scrubbed: number | undefined;
function drawn(e: PointerEvent): void {
  if (!(e.buttons & 1)) return;
  const cell = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-frame]');
  const frame = cell && strip.value?.contains(cell) ? Number(cell.dataset['frame']) : undefined;
  if (frame === undefined || frame === scrubbed) return;
  scrubbed = frame;
  emit('scrub', frame);
}

watch(
  () => props.frame,
  async () => {
    await nextTick();
    strip.value
      ?.querySelector('[aria-pressed=true]')
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  },
);
/** The arrow keys go from frame to frame. */
function step(by: number): void {
  const next = props.frames[props.frames.indexOf(props.frame ?? NaN) + by];
  if (next !== undefined) emit('open', next);
}
</script>

<template>
  <div
    ref="strip"
    class="strip"
    role="toolbar"
    aria-label="Frames"
    @keydown.left.prevent="step(-1)"
    @keydown.right.prevent="step(1)"
    @pointermove="drawn"
    @pointerdown="scrubbed = undefined"
  >
    <div class="cells">
      <template v-for="c in cells" :key="c.frame ?? `gap ${c.from}`">
        <button
          v-if="c.frame !== undefined"
          class="plain-button"
          type="button"
          :class="marksOf(c.frame)"
          :data-frame="c.frame"
          :aria-pressed="c.frame === frame"
          :aria-label="`Frame ${c.frame}`"
          :title="told(c.frame)"
          @click="emit('open', c.frame)"
        >
          <img
            v-if="pictures.has(c.frame)"
            :src="fileUrl(pictures.get(c.frame)!)"
            loading="lazy"
            alt=""
            draggable="false"
          />
          <span>{{ c.frame }}</span>
          <i v-if="marksOf(c.frame).key" class="mark" aria-hidden="true" />
          <b v-if="marksOf(c.frame).leap || marksOf(c.frame).problem" aria-hidden="true">!</b>
        </button>
        <span v-else class="gap" :title="`Missing: ${c.from === c.to ? c.from : `${c.from} to ${c.to}`}`">
          {{ c.from === c.to ? c.from : `${c.from}–${c.to}` }}
        </span>
      </template>
    </div>
    <slot name="under" v-bind="layout" />
  </div>
</template>

<style scoped>
.cells {
  display: flex;
  gap: 3px;
}
.strip {
  flex: none;
  padding: 5px 8px;
  overflow-x: auto;
  background: var(--crow-soft);
  color: var(--on-room);
  scrollbar-width: thin;
  scrollbar-color: var(--room) transparent;
}
button,
.gap {
  position: relative;
  flex: none;
  width: 72px;
  height: 44px;
  background: #3a3a3a;
  font-size: 12px;
}
button[aria-pressed='true'] {
  outline: 2px solid var(--lemon);
}
img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.outside img {
  opacity: 0.35;
}
.ready {
  box-shadow: 0 3px 0 #cfcfcf;
}
.mark {
  position: absolute;
  right: 4px;
  bottom: 4px;
  width: 7px;
  height: 7px;
  background: #f2f2f2;
  border-radius: 50%;
  box-shadow: 0 0 0 1px #000;
}
button b {
  position: absolute;
  right: 0;
  top: 0;
  padding: 0 5px;
  background: rgb(0 0 0 / 72%);
}
button span {
  position: absolute;
  left: 0;
  bottom: 0;
  padding: 0 4px;
  background: rgb(0 0 0 / 62%);
}
.gap {
  display: grid;
  place-items: center;
  width: 48px;
  background: repeating-linear-gradient(45deg, #4a4a4a 0 5px, #2a2a2a 5px 10px);
  text-shadow: 0 0 3px #000;
}
</style>
