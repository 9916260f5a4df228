<script setup lang="ts">
import { useEventListener, useResizeObserver } from '@vueuse/core';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import type { Probe } from '../picture/messages.ts';
import { drawViewer, type Scene } from './draw.ts';
import { LineLayer, strokeHover, strokeTwice } from './line-layer.ts';
import { Surfaces } from './surfaces.ts';
import type { Place, ToolHost, ViewerView, ViewerTool } from './tool.ts';
import { usePlacement } from './use-placement.ts';
import { usePointer } from './use-pointer.ts';
import type { ViewedPicture } from './viewed-picture.ts';
import ViewerDivider from './ViewerDivider.vue';

/** A picture with zoom, divider and a tool. It knows no screen and no store: what a click means is the tool's business. */
const props = defineProps<{
  picture: ViewedPicture;
  view: ViewerView;
  makeTool: (host: ToolHost) => ViewerTool;
}>();
const emit = defineEmits<{
  /** What is under the pointer, and where in the viewer that is. */
  probe: [probe: Probe | undefined, at: Place];
  /** The list of what lies there is asked for. */
  menu: [probe: Probe | undefined, at: Place];
  zoomed: [percent: number];
  'update:divider': [share: number];
  /** The part of the picture that is on the screen, in its pixels. */
  visible: [area: Area];
  /** Where the picture lies in the viewer, in screen pixels; also what of it is out of sight. */
  placed: [box: Area];
  /** The middle of what a click would take, in the viewer; undefined where that is nothing. */
  aimed: [at: Place | undefined];
  /** Something is dragged, drawn or moved. */
  busy: [on: boolean];
}>();

/** One for its life: what is open in it may change. */
const { picture } = props;
const tool = props.makeTool({
  probe: ({ x, y }, layer) => picture.probe(Math.floor(x), Math.floor(y), layer),
  scale: () => placement.value.k,
});

const canvas = ref<HTMLCanvasElement>();
/** Beside it, for the mask. */
const second = ref<HTMLCanvasElement>();
const surfaces = shallowRef<Surfaces>();
/** The space bar is down: the button moves the picture. */
const space = ref(false);
const { placement, size, box, framing, refit, fit, zoomTo, zoomBy, reveal } = usePlacement({
  canvas,
  second,
  picture: () => picture.size,
  grabs: () => space.value,
  onZoomed: (percent) => emit('zoomed', percent),
  onVisible: (area) => emit('visible', area),
});
const { over, held, pointer, waiting, listeners } = usePointer({
  canvas,
  placement,
  tool,
  probe: (x, y) => picture.probe(x, y),
  grabs: () => space.value,
  blocked: () => before.value === true,
  onProbe: (probe, at) => emit('probe', probe, at),
  onMenu: (probe, at) => emit('menu', probe, at),
});
defineExpose({ reveal, fit, zoomTo, zoomBy });
let queued = false;
const lines = { outline: new LineLayer(strokeTwice), hover: new LineLayer(strokeHover) };
let context: CanvasRenderingContext2D | undefined;
/** Before the files are there nothing is known of windows. */
const NO_BOX = { xMin: 0, yMin: 0, xMax: 0, yMax: 0 };

// ---- drawing

const before = computed(() =>
  props.view.holdBefore ? true : props.view.divider !== undefined ? props.view.divider : false,
);

/** Where the files of the frame end too soon. */
const missing = computed(() =>
  (picture.opened?.findings ?? []).flatMap((f) => (f.code === 'file-cut-off' ? (f.places ?? []) : [])),
);

function redraw(): void {
  if (queued) return;
  queued = true;
  requestAnimationFrame(() => {
    queued = false;
    if (!context || !surfaces.value) return;
    const { view } = props;
    const picking = view.showPicks && !view.adjusting && (view.mode === 'picture' || view.mode === 'ids');
    const { dataWindow: d, displayWindow: w } = picture.opened ?? {
      dataWindow: NO_BOX,
      displayWindow: NO_BOX,
    };
    const whole = d.xMin === w.xMin && d.yMin === w.yMin && d.xMax === w.xMax && d.yMax === w.yMax;
    const scene: Scene = {
      missing: missing.value,
      surfaces: surfaces.value,
      placement: placement.value,
      density: devicePixelRatio,
      drawn: tool.drawn.value,
      circle: over.value && tool.reach.value > 0 ? { ...pointer.value, radius: tool.reach.value } : undefined,
      mask: false,
      warn: view.warnings.length > 0 && view.mode === 'picture',
      lines,
      dim: picking && over.value && view.mode === 'picture' && picture.outline.length > 0,
      outline: picking ? picture.outline : undefined,
      hover: view.highlight ?? (picking && over.value ? tool.hover.value : undefined),
      before: before.value,
      frame: whole
        ? undefined
        : { x: w.xMin - d.xMin, y: w.yMin - d.yMin, width: w.xMax - w.xMin + 1, height: w.yMax - w.yMin + 1 },
    };
    drawViewer(context, size.value.width, size.value.height, scene);
    drawSecond(scene);
    if (fresh) tell('drawn');
    fresh = false;
  });
}
/** The mask or the picture before, as large and at the same place as the picture. */
function drawSecond(scene: Scene): void {
  const element = second.value;
  const own = element?.getContext('2d');
  if (!element || !own) return;
  const { width, height } = size.value;
  const [w, h] = [Math.round(width * devicePixelRatio), Math.round(height * devicePixelRatio)];
  if (element.width !== w) element.width = w;
  if (element.height !== h) element.height = h;
  drawViewer(own, width, height, { ...scene, mask: props.view.beside === 'mask', before: true });
}
watch(
  [
    placement,
    size,
    over,
    second,
    tool.hover,
    tool.drawn,
    tool.reach,
    () => (tool.reach.value > 0 ? pointer.value : undefined),
    () => props.view.highlight,
    before,
    () => picture.outline,
    () => props.view.showPicks,
    () => props.view.adjusting,
    () => props.view.mode,
    () => props.view.beside,
    () => props.view.warnings,
  ],
  redraw,
);

/** Tiles of the picture have come since the last drawing. */
let fresh = false;
picture.setSink((surface, tiles) => {
  surfaces.value?.put(surface, tiles);
  if (surface === 'view') fresh = true;
  redraw();
});
/** Tells whoever measures or tests: new pixels are on the screen, or all that was asked for is. */
const tell = (what: 'drawn' | 'settled') =>
  canvas.value?.dispatchEvent(new CustomEvent(what, { bubbles: true }));
watch(
  () => picture.settledCount,
  () => requestAnimationFrame(() => tell('settled')),
);

/**
 * The view that rests on the screen: all of it was computed and drawn, and nothing is on its way. Whoever tests or
 * measures finds its number at the picture.
 */
const resting = ref<number>();
watch(
  () => picture.rests,
  (rests) => {
    resting.value = undefined;
    if (rests === undefined) return;
    // Behind the drawing that the last tiles have queued.
    requestAnimationFrame(() =>
      requestAnimationFrame(() => {
        if (picture.rests === rests) resting.value = rests;
      }),
    );
  },
  { flush: 'sync', immediate: true },
);

// ---- another picture

watch(
  () => picture.size,
  (o) => {
    surfaces.value = o && new Surfaces(o.width, o.height);
    tool.leave();
    if (o) fit();
    redraw();
  },
  { flush: 'sync', immediate: true },
);
watch(
  () => picture.preview,
  async (url) => {
    if (!url) return;
    const own = surfaces.value;
    const image = new Image();
    image.src = url;
    try {
      await image.decode();
    } catch {
      // It only stands in: the picture itself is on its way.
      return;
    }
    own?.putPreview(image);
    redraw();
  },
  { immediate: true },
);

watch(box, (now) => now && emit('placed', now), { immediate: true });

// ---- pointer

// A button is down, or the picture is about to be moved.
watch(
  () => held.value || space.value,
  (on) => emit('busy', on),
);
watch(
  () => tool.hover.value,
  (outline) => emit('aimed', outline && middleOf(outline)),
);
/** The middle of an outline's box, on the screen. @param outline x and y of its points by turns, in picture pixels */
function middleOf(outline: Float32Array): Place | undefined {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i + 1 < outline.length; i += 2) {
    [x0, x1] = [Math.min(x0, outline[i]!), Math.max(x1, outline[i]!)];
    [y0, y1] = [Math.min(y0, outline[i + 1]!), Math.max(y1, outline[i + 1]!)];
  }
  const { k, x, y } = placement.value;
  return x1 < x0 ? undefined : { x: (k * (x0 + x1)) / 2 + x, y: (k * (y0 + y1)) / 2 + y };
}

// ---- life

const setSpace = (on: boolean) => (e: KeyboardEvent) => {
  const target = e.target as HTMLElement;
  if (e.code !== 'Space' || target.closest('input, textarea, button, [role="switch"]')) return;
  e.preventDefault();
  space.value = on;
};
useEventListener('keydown', setSpace(true));
useEventListener('keyup', setSpace(false));
useResizeObserver(canvas, ([entry]) => {
  const element = canvas.value;
  if (!element || !entry) return;
  const { width, height } = entry.contentRect;
  element.width = Math.round(width * devicePixelRatio);
  element.height = Math.round(height * devicePixelRatio);
  size.value = { width, height };
  refit();
  redraw();
});
onMounted(() => (context = canvas.value!.getContext('2d') ?? undefined));
</script>

<template>
  <div class="viewer" :class="{ pan: space, beside: view.beside }">
    <canvas
      ref="canvas"
      aria-label="Picture"
      role="img"
      :data-rests="framing ? undefined : resting"
      v-on="listeners"
    />
    <canvas
      v-if="view.beside"
      ref="second"
      class="second"
      :aria-label="view.beside === 'mask' ? 'Mask' : 'Picture before'"
      role="img"
      v-on="listeners"
    />
    <ViewerDivider
      v-if="view.divider !== undefined"
      :model-value="view.divider"
      :canvas="canvas"
      @update:model-value="emit('update:divider', $event)"
    />
    <slot name="over" :placement="placement" :size="size" />
    <span v-if="view.holdBefore" class="badge">before</span>
    <span v-if="view.beside === 'before'" class="badge second-badge">before</span>
    <span
      v-if="waiting"
      class="badge waiting"
      role="status"
      :style="{ left: `${waiting.x + 14}px`, top: `${waiting.y + 14}px` }"
      >waiting for the IDs…</span
    >
  </div>
</template>

<style scoped>
.viewer {
  position: relative;
  width: 100%;
  height: 100%;
  overflow: hidden;
  background: var(--room);
}
canvas {
  display: block;
  width: 100%;
  height: 100%;
  cursor: crosshair;
  touch-action: none;
}
.beside canvas {
  width: 50%;
}
.second {
  position: absolute;
  top: 0;
  left: 50%;
  border-left: 1px solid var(--room-line);
}
.pan canvas {
  cursor: grab;
}
.badge {
  position: absolute;
  padding: 1px 8px;
  background: var(--over);
  color: #f2f2f2;
  font-size: 12px;
}
.badge {
  top: 10px;
  left: 10px;
}
.second-badge {
  left: calc(50% + 10px);
}
.waiting {
  pointer-events: none;
}
</style>
