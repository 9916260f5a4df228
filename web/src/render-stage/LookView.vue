<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { Area, Size } from '@zesty-crow/core/planes';
import { usePlacement } from '../viewer/use-placement.ts';
import { areaAround, isPart } from './looked-at.ts';

/**
 * A look at a frame: zoomed with the wheel, moved by dragging. While it is rendered, what one zooms to or clicks at is told,
 * so that samples are taken there first.
 */
const props = defineProps<{
  src: string;
  /** Of the frame in pixels; the look itself may be smaller. */
  size: Size;
  /** It is being rendered. */
  growing: boolean;
  /** Where samples are taken first. */
  looked: Area | undefined;
}>();
const emit = defineEmits<{ look: [area: Area | undefined] }>();
const room = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const image = shallowRef<HTMLImageElement>();
const zoomed = ref(false);

const { placement, size, box, fit, refit } = usePlacement({
  canvas,
  second: ref(undefined),
  picture: () => props.size,
  grabs: () => true,
  onZoomed: () => undefined,
  onVisible(area) {
    const part = isPart(area, props.size);
    if (part || zoomed.value) emit('look', part ? area : undefined);
    zoomed.value = part;
  },
});

watch(
  () => props.src,
  (src) => {
    const next = new Image();
    next.src = src;
    // The one before stays until this one can be drawn.
    next.decode().then(
      () => {
        if (src === props.src) image.value = next;
      },
      () => undefined,
    );
  },
  { immediate: true },
);
watch(() => [props.size.width, props.size.height], fit);
useResizeObserver(room, ([entry]) => {
  const { width, height } = entry!.contentRect;
  size.value = { width, height };
  refit();
});
onMounted(fit);

function draw(): void {
  const to = canvas.value;
  if (!to) return;
  [to.width, to.height] = [size.value.width, size.value.height];
  const context = to.getContext('2d')!;
  const { k, x, y } = placement.value;
  if (!image.value) return;
  // Single pixels are seen as such where they are larger than a few of the screen's.
  context.imageSmoothingEnabled = k < 3;
  context.drawImage(image.value, x, y, k * props.size.width, k * props.size.height);
}
watch([image, placement, size], draw, { flush: 'post' });

let pressed: PointerEvent | undefined;
function up(event: PointerEvent): void {
  const from = pressed;
  pressed = undefined;
  if (!props.growing || !from || event.button !== 0) return;
  if (Math.hypot(event.clientX - from.clientX, event.clientY - from.clientY) > 4) return;
  const { k, x, y } = placement.value;
  emit('look', areaAround((event.offsetX - x) / k, (event.offsetY - y) / k, props.size));
}
/** The place where samples come first, in the room. */
const frame = computed(() => {
  const { k, x, y } = placement.value;
  const a = props.looked;
  if (!a || zoomed.value) return undefined;
  return {
    left: `${x + k * a.x0}px`,
    top: `${y + k * a.y0}px`,
    width: `${k * (a.x1 - a.x0)}px`,
    height: `${k * (a.y1 - a.y0)}px`,
  };
});
defineExpose({ fit });
</script>

<template>
  <div ref="room" class="look" :data-box="box && JSON.stringify(box)">
    <canvas
      ref="canvas"
      role="img"
      aria-label="The picture so far"
      @pointerdown="pressed = $event"
      @pointerup="up"
      @dblclick="fit()"
    />
    <div v-if="growing && frame" class="first" :style="frame" />
  </div>
</template>

<style scoped>
.look {
  position: relative;
  width: 100%;
  height: 100%;
  min-height: 0;
  overflow: hidden;
}
canvas {
  position: absolute;
  inset: 0;
  touch-action: none;
}
.first {
  position: absolute;
  border: 1px solid #fff;
  outline: 1px solid #000;
  pointer-events: none;
}
</style>
