<script setup lang="ts">
import type { StoredFile } from '@zesty-crow/server/contract';
import { computed, nextTick, ref, watch } from 'vue';
import { fileUrl } from '../server/api.ts';

/** The frames of a sequence in a row, each with its picture where there is one; gaps are shown as gaps. */
const props = defineProps<{
  frames: readonly number[];
  frame: number | undefined;
  files: readonly StoredFile[];
}>();
const emit = defineEmits<{ open: [frame: number] }>();
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
  >
    <template v-for="c in cells" :key="c.frame ?? `gap ${c.from}`">
      <button
        v-if="c.frame !== undefined"
        class="plain-button"
        type="button"
        :aria-pressed="c.frame === frame"
        :aria-label="`Frame ${c.frame}`"
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
      </button>
      <span v-else class="gap" :title="`Missing: ${c.from === c.to ? c.from : `${c.from} to ${c.to}`}`">
        {{ c.from === c.to ? c.from : `${c.from}–${c.to}` }}
      </span>
    </template>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex: none;
  gap: 3px;
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
