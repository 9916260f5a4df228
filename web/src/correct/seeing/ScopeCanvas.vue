<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, watchEffect } from 'vue';
import type { Counts, Scope } from '@zesty-crow/core/scopes';
import { drawScope } from './draw-scope.ts';

/** One scope, with rings where swatches lie. */
const props = defineProps<{
  scope: Scope;
  counts: Counts | undefined;
  /** Scene-linear Rec. 709 colours that are marked, each with what it is. */
  marks: readonly { colour: readonly [number, number, number]; label: string }[];
}>();
const canvas = ref<HTMLCanvasElement>();
const room = ref<HTMLElement>();
const { width, height } = useElementSize(room);
const square = computed(() => props.counts !== undefined && props.counts.width === props.counts.height);
/** A square scope is a square in the middle; the others fill their pane. */
const tall = computed(() => (square.value ? Math.min(width.value, height.value) : height.value));
const across = computed(() => (square.value ? tall.value : width.value));
/** Hues that everybody can name, on the rim. */
const HUES = [
  ['R', [1, 0, 0]],
  ['Y', [1, 1, 0]],
  ['G', [0, 1, 0]],
  ['C', [0, 1, 1]],
  ['B', [0, 0, 1]],
  ['M', [1, 0, 1]],
] as const;

watchEffect(() => {
  const context = canvas.value?.getContext('2d');
  if (!context || width.value < 1 || height.value < 1) return;
  const [w, h] = [width.value, tall.value];
  canvas.value!.width = Math.round(w * devicePixelRatio);
  canvas.value!.height = Math.round(h * devicePixelRatio);
  context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
  context.clearRect(0, 0, w, h);
  if (!props.counts) return;
  context.save();
  context.translate((w - across.value) / 2, 0);
  drawScope(context, props.counts, across.value, h);
  const placed = (c: readonly [number, number, number]) => {
    const [x, y] = props.scope.place!(c);
    return [Math.min(1, Math.max(0, x)) * across.value, Math.min(1, Math.max(0, y)) * h] as const;
  };
  if (props.scope.place && square.value) {
    context.strokeStyle = 'rgb(255 255 255 / 22%)';
    context.beginPath();
    context.moveTo(across.value / 2, 0);
    context.lineTo(across.value / 2, h);
    context.moveTo(0, h / 2);
    context.lineTo(across.value, h / 2);
    context.stroke();
    context.fillStyle = 'rgb(220 220 220)';
    context.font = '11px sans-serif';
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    for (const [name, colour] of HUES) {
      const [x, y] = placed(colour);
      const far = Math.max(1, Math.hypot(x - across.value / 2, y - h / 2));
      const by = (h / 2 - 8) / far;
      context.fillText(name, across.value / 2 + (x - across.value / 2) * by, h / 2 + (y - h / 2) * by);
    }
  }
  if (props.scope.place)
    for (const { colour } of props.marks) {
      const [x, y] = placed(colour);
      for (const [style, line] of [
        ['black', 4],
        ['white', 2],
      ] as const) {
        context.strokeStyle = style;
        context.lineWidth = line;
        context.beginPath();
        if (square.value) context.arc(x, y, 5, 0, 2 * Math.PI);
        else {
          context.moveTo(x, 0);
          context.lineTo(x, h);
        }
        context.stroke();
      }
    }
  context.restore();
});
</script>

<template>
  <div ref="room" class="canvas-room">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="`${scope.label}${marks.map((m) => `, ${m.label}`).join('')}`"
      :style="{ height: `${tall}px` }"
    />
  </div>
</template>

<style scoped>
.canvas-room {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
canvas {
  display: block;
  width: 100%;
}
</style>
