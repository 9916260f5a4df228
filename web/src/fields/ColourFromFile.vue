<script setup lang="ts">
import { ElDialog } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import { ImageUp } from '@lucide/vue';
import { ref, shallowRef, useTemplateRef, watch } from 'vue';
import { meanOfBytes } from '@zesty-crow/core/colour';
import type { ColourValue } from '@zesty-crow/core/fields';
import { notifyError } from '../server/notify.ts';
import { hexOf } from './colour-text.ts';
import { pixelsOfFile, type FilePixels } from './file-pixels.ts';

/** Takes a colour by a click from a picture file: a photograph of a swatch, a brand sheet. */
defineProps<{ label: string }>();
const emit = defineEmits<{ choose: [value: ColourValue] }>();
/** So many pixels of the file, squared, are averaged. */
const SIDE = 5;

const pixels = shallowRef<FilePixels>();
const name = ref('');
const shown = ref(false);
const under = ref<string>();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const { open, onChange } = useFileDialog({ accept: 'image/*', multiple: false, reset: true });
onChange((files) => {
  const file = files?.[0];
  if (file) void load(file);
});
async function load(file: File): Promise<void> {
  try {
    pixels.value = await pixelsOfFile(file);
    name.value = file.name;
    shown.value = true;
  } catch (error) {
    notifyError(error);
  }
}
watch(canvas, (element) => {
  const p = pixels.value;
  if (!element || !p) return;
  element.width = p.width;
  element.height = p.height;
  element
    .getContext('2d')
    ?.putImageData(new ImageData(p.data as Uint8ClampedArray<ArrayBuffer>, p.width, p.height), 0, 0);
});
function colourAt(e: PointerEvent): ColourValue | undefined {
  const p = pixels.value;
  if (!p || !canvas.value) return undefined;
  const box = canvas.value.getBoundingClientRect();
  const at = (from: number, length: number, count: number) => Math.floor((from / length) * count);
  return meanOfBytes(
    p,
    at(e.clientX - box.left, box.width, p.width),
    at(e.clientY - box.top, box.height, p.height),
    SIDE,
  );
}
function point(e: PointerEvent): void {
  const colour = colourAt(e);
  under.value = colour && hexOf(colour);
}
function take(e: PointerEvent): void {
  const colour = colourAt(e);
  if (!colour) return;
  emit('choose', colour);
  shown.value = false;
}
</script>

<template>
  <button
    class="plain-button take"
    type="button"
    :aria-label="`Take ${label.toLowerCase()} from a picture file`"
    title="Take it from a picture file"
    @click="open()"
  >
    <ImageUp :size="16" :stroke-width="1.6" />
  </button>
  <ElDialog v-model="shown" :title="name" width="min(920px, 92vw)" append-to-body destroy-on-close>
    <p class="paper-hint">
      Click the colour. {{ SIDE }} by {{ SIDE }} pixels are averaged.
      <span v-if="under" class="under"><i :style="{ background: under }" />{{ under }}</span>
    </p>
    <canvas
      ref="canvas"
      role="img"
      aria-label="Picture to take a colour from"
      @pointermove="point"
      @pointerdown.prevent="take"
    />
  </ElDialog>
</template>

<style scoped>
.take {
  display: grid;
  padding: 4px;
}
canvas {
  display: block;
  max-width: 100%;
  max-height: 64vh;
  margin: 0 auto;
  cursor: crosshair;
}
.under {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.under i {
  width: 28px;
  height: 14px;
}
</style>
