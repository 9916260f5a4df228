<script setup lang="ts">
import { ref, watchEffect } from 'vue';
import type { PassPicture } from './messages.ts';

/** A small picture that the worker has made, pixel for pixel. */
const props = defineProps<{ shown: PassPicture | undefined }>();
const canvas = ref<HTMLCanvasElement>();
watchEffect(() => {
  if (!props.shown || !canvas.value) return;
  const { width, height, data } = props.shown;
  canvas.value.width = width;
  canvas.value.height = height;
  canvas.value.getContext('2d')!.putImageData(new ImageData(data, width, height), 0, 0);
});
</script>

<template>
  <canvas ref="canvas" :class="{ coming: !shown }" />
</template>

<style scoped>
canvas {
  display: block;
}
.coming {
  opacity: 0;
}
</style>
