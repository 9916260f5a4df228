<script setup lang="ts">
import { ref, watch } from 'vue';
import { usePicture } from '../../picture/picture.ts';
import type { Placement } from '../../viewer/placement.ts';
import { useSequence } from './sequence.ts';

/** A frame that is played or gone to, over the picture and as large, until it is open itself. */
defineProps<{ placement: Placement }>();
const picture = usePicture();
const sequence = useSequence();
const canvas = ref<HTMLCanvasElement>();

watch(
  [() => sequence.over?.bitmap, canvas],
  ([bitmap, element]) => {
    if (!bitmap || !element) return;
    [element.width, element.height] = [bitmap.width, bitmap.height];
    element.getContext('2d')?.drawImage(bitmap, 0, 0);
  },
  { flush: 'post' },
);
</script>

<template>
  <div
    v-if="sequence.over && picture.size"
    class="frame-over"
    :style="{
      left: `${placement.x}px`,
      top: `${placement.y}px`,
      width: `${picture.size.width * placement.k}px`,
      height: `${picture.size.height * placement.k}px`,
    }"
  >
    <canvas v-if="sequence.over.bitmap" ref="canvas" aria-hidden="true" />
    <template v-else>
      <img v-if="sequence.over.stored" :src="sequence.over.stored" alt="" draggable="false" />
      <span class="note">{{ sequence.over.problem ?? `frame ${sequence.over.frame} as rendered` }}</span>
    </template>
  </div>
</template>

<style scoped>
.frame-over {
  position: absolute;
  overflow: hidden;
  pointer-events: none;
}
canvas,
img {
  width: 100%;
  height: 100%;
}
.note {
  position: absolute;
  left: 8px;
  top: 8px;
  max-width: calc(100% - 16px);
  padding: 1px 8px;
  background: var(--over);
  color: var(--on-over);
  font-size: 13px;
}
</style>
