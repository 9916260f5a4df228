<script setup lang="ts">
import { computed } from 'vue';
import type { MaskPart } from '@zesty-crow/core/masks';

/** How large a mask is in each frame, as a line under the frames; where it leaps there is a dot. */
const props = defineProps<{
  parts: readonly { frame: number; part: MaskPart }[];
  leaps: ReadonlySet<number>;
  /** Middles of the frames' cells, in pixels. */
  middles: ReadonlyMap<number, number>;
  width: number;
}>();
const HEIGHT = 18;
const most = computed(() => Math.max(1e-9, ...props.parts.map((p) => p.part.area)));
const points = computed(() =>
  props.parts.map(({ frame, part }) => ({
    frame,
    x: props.middles.get(frame) ?? 0,
    y: HEIGHT - 2 - (HEIGHT - 5) * (part.area / most.value),
  })),
);
</script>

<template>
  <svg :width="width" :height="HEIGHT" role="img" aria-label="Area of the mask by frame">
    <title>How much of the frame the mask of the open change covers, up to {{ most.toPrecision(2) }} %</title>
    <polyline :points="points.map((p) => `${p.x},${p.y}`).join(' ')" />
    <circle
      v-for="p in points"
      :key="p.frame"
      :class="{ leap: leaps.has(p.frame) }"
      :cx="p.x"
      :cy="p.y"
      :r="leaps.has(p.frame) ? 4 : 1.5"
    />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  margin-top: 4px;
}
polyline {
  fill: none;
  stroke: #b9b9b9;
}
circle {
  fill: #dcdcdc;
}
.leap {
  fill: none;
  stroke: #f0f0f0;
  stroke-width: 2;
}
</style>
