<script setup lang="ts">
import { ref, shallowRef, watch, watchEffect } from 'vue';
import type { PassPicture } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';

/** A pass of the open frame as a picture; empty until it has been read. */
const props = defineProps<{ name: string; side: number; channel?: string | undefined }>();
const emit = defineEmits<{ shown: [picture: PassPicture | undefined] }>();
const picture = usePicture();
const canvas = ref<HTMLCanvasElement>();
const shown = shallowRef<PassPicture>();
const failed = ref(false);

let asked = 0;
watch(
  [() => picture.opened, () => props.name, () => props.side, () => props.channel],
  async () => {
    if (!picture.opened) return;
    const own = ++asked;
    const found = await picture.pass(props.name, props.side, props.channel);
    if (own !== asked) return;
    shown.value = found;
    failed.value = !found;
    emit('shown', found);
  },
  { immediate: true },
);
watchEffect(() => {
  if (!shown.value || !canvas.value) return;
  const { width, height, data } = shown.value;
  canvas.value.width = width;
  canvas.value.height = height;
  canvas.value.getContext('2d')!.putImageData(new ImageData(data, width, height), 0, 0);
});
</script>

<template>
  <canvas ref="canvas" :class="{ coming: !shown }" :data-failed="failed || undefined" />
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.coming {
  opacity: 0;
}
</style>
