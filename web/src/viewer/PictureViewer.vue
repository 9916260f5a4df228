<script setup lang="ts">
import { useDebounceFn, useEventListener, useResizeObserver } from '@vueuse/core';
import { select } from 'd3-selection';
import 'd3-transition';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { Area } from '@zesty-crow/core/planes';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { drawViewer, type Scene } from './draw.ts';
import { LineLayer, strokeHover, strokeTwice } from './line-layer.ts';
import type { Placement } from './placement.ts';
import { Surfaces } from './surfaces.ts';
import type { Place, ToolHost, ViewerLook, ViewerTool } from './tool.ts';

/** The open picture with zoom, divider and a tool. It knows no screen: what a click means is the tool's business. */
const props = defineProps<{ look: ViewerLook; makeTool: (host: ToolHost) => ViewerTool }>();
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

const picture = usePicture();
const tool = props.makeTool({
  probe: ({ x, y }, layer) => picture.probe(Math.floor(x), Math.floor(y), layer),
  scale: () => place.value.k,
});

const canvas = ref<HTMLCanvasElement>();
/** Beside it, for the mask. */
const second = ref<HTMLCanvasElement>();
const surfaces = shallowRef<Surfaces>();
const place = ref<Placement>({ k: 1, x: 0, y: 0 });
const size = ref({ width: 1, height: 1 });
const over = ref(false);
const space = ref(false);
let queued = false;
const lines = { outline: new LineLayer(strokeTwice), hover: new LineLayer(strokeHover) };
let context: CanvasRenderingContext2D | undefined;
/** The whole picture is shown: it is fitted again when the room for it changes. */
let fitted = true;
/** Before the files are there nothing is known of windows. */
const NO_BOX = { xMin: 0, yMin: 0, xMax: 0, yMax: 0 };
/** Room around a fitted picture, in screen pixels. */
const MARGIN = 8;

// ---- drawing

const before = computed(() =>
  props.look.holdBefore ? true : props.look.divider !== undefined ? props.look.divider : false,
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
    const { look } = props;
    const picking = look.showPicks && !look.adjusting && (look.look === 'picture' || look.look === 'ids');
    const { dataWindow: d, displayWindow: w } = picture.opened ?? {
      dataWindow: NO_BOX,
      displayWindow: NO_BOX,
    };
    const whole = d.xMin === w.xMin && d.yMin === w.yMin && d.xMax === w.xMax && d.yMax === w.yMax;
    const scene: Scene = {
      missing: missing.value,
      surfaces: surfaces.value,
      place: place.value,
      density: devicePixelRatio,
      drawn: tool.drawn.value,
      circle: over.value && tool.reach.value > 0 ? { ...pointer.value, radius: tool.reach.value } : undefined,
      mask: false,
      warn: look.warnings.length > 0 && look.look === 'picture',
      lines,
      dim: picking && over.value && look.look === 'picture' && picture.outline.length > 0,
      outline: picking ? picture.outline : undefined,
      hover: look.highlight ?? (picking && over.value ? tool.hover.value : undefined),
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
  drawViewer(own, width, height, { ...scene, mask: props.look.beside === 'mask', before: true });
}
watch(
  [
    place,
    size,
    over,
    second,
    tool.hover,
    tool.drawn,
    tool.reach,
    () => (tool.reach.value > 0 ? pointer.value : undefined),
    () => props.look.highlight,
    before,
    () => picture.outline,
    () => props.look.showPicks,
    () => props.look.adjusting,
    () => props.look.look,
    () => props.look.beside,
    () => props.look.warnings,
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

// ---- zoom and pan

const zooming = () =>
  zoom<HTMLCanvasElement, unknown>()
    .scaleExtent([0.02, 64])
    .filter((e: MouseEvent) => e.type === 'wheel' || e.button === 1 || (e.button === 0 && space.value));
const behaviour = zooming().on('zoom', (e: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
  place.value = { k: e.transform.k, x: e.transform.x, y: e.transform.y };
  if (second.value) select(second.value).property('__zoom', e.transform);
  // Someone's hand moved it; a fit is no event of anyone's.
  if (e.sourceEvent) fitted = false;
  emit('zoomed', e.transform.k * 100);
});

function setPlace(k: number, x: number, y: number): void {
  if (canvas.value) select(canvas.value).call(behaviour.transform, zoomIdentity.translate(x, y).scale(k));
}
function fit(): void {
  const o = picture.size;
  if (!o) return;
  const { width, height } = size.value;
  const k = Math.min((width - 2 * MARGIN) / o.width, (height - 2 * MARGIN) / o.height);
  if (!(k > 0)) return;
  // As high as it goes: what is left is one room below it, where scopes lie.
  setPlace(k, (width - o.width * k) / 2, MARGIN);
  fitted = true;
}
/** Zooms about the viewer's middle to a scale of picture pixels to screen pixels. */
function zoomTo(k: number): void {
  fitted = false;
  if (canvas.value) select(canvas.value).call(behaviour.scaleTo, k);
}
// Zoomed there, the picture follows, and then it.
const besideBehaviour = zooming().on('zoom', (e: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
  if (!e.sourceEvent || !canvas.value) return;
  fitted = false;
  select(canvas.value).call(behaviour.transform, e.transform);
});
watch(second, (element) => {
  if (!element) return;
  select(element).call(besideBehaviour).on('dblclick.zoom', null);
  const { k, x, y } = place.value;
  select(element).property('__zoom', zoomIdentity.translate(x, y).scale(k));
});
/** Brings a place of the picture into view, if it is not. */
function reveal({ x0, y0, x1, y1 }: Area): void {
  const { k, x, y } = place.value;
  const { width, height } = size.value;
  const seen = x0 * k + x < width && x1 * k + x > 0 && y0 * k + y < height && y1 * k + y > 0;
  if (seen) return;
  fitted = false;
  setPlace(k, width / 2 - (k * (x0 + x1)) / 2, height / 2 - (k * (y0 + y1)) / 2);
}
defineExpose({ reveal, fit, zoomTo, zoomBy: (factor: number) => zoomTo(place.value.k * factor) });

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

// ---- what is on the screen

/** What is on the screen is about to be told. */
const framing = ref(false);
const emitVisible = useDebounceFn(() => {
  framing.value = false;
  const o = picture.size;
  if (!o) return;
  const { k, x, y } = place.value;
  emit('visible', {
    x0: Math.max(0, -x / k),
    y0: Math.max(0, -y / k),
    x1: Math.min(o.width, (size.value.width - x) / k),
    y1: Math.min(o.height, (size.value.height - y) / k),
  });
}, 80);
watch([place, size, () => picture.size], () => {
  framing.value = true;
  void emitVisible();
});

const placedNow = computed((): Area | undefined => {
  const o = picture.size;
  const { k, x, y } = place.value;
  return o && { x0: x, y0: y, x1: x + k * o.width, y1: y + k * o.height };
});
watch(placedNow, (box) => box && emit('placed', box), { immediate: true });

// ---- pointer

/** A button is down, or the picture is about to be moved. */
const held = ref(false);
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
  const { k, x, y } = place.value;
  return x1 < x0 ? undefined : { x: (k * (x0 + x1)) / 2 + x, y: (k * (y0 + y1)) / 2 + y };
}

function placeOf(e: MouseEvent): { screen: Place; at: Place } {
  // The pointer may be over either of two pictures that show the same place.
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect();
  const screen = { x: e.clientX - box.left, y: e.clientY - box.top };
  const { k, x, y } = place.value;
  const pen = e instanceof PointerEvent && e.pointerType === 'pen' && e.pressure > 0;
  return {
    screen,
    at: { x: (screen.x - x) / k, y: (screen.y - y) / k, ...(pen ? { pressure: e.pressure } : {}) },
  };
}

/** Where the pointer is on the screen. */
const pointer = shallowRef<Place>({ x: 0, y: 0 });

async function openMenu(e: MouseEvent): Promise<void> {
  const { screen, at } = placeOf(e);
  const box = canvas.value!.getBoundingClientRect();
  const own = (e.currentTarget as HTMLElement).getBoundingClientRect();
  const found = await picture.probe(Math.floor(at.x), Math.floor(at.y)).catch(() => undefined);
  emit('menu', found, { x: screen.x + own.left - box.left, y: screen.y });
}

let probing = false;
let wanted: { screen: Place; at: Place } | undefined;

async function probe(next: { screen: Place; at: Place }): Promise<void> {
  wanted = next;
  if (probing) return;
  probing = true;
  while (wanted) {
    const { screen, at }: { screen: Place; at: Place } = wanted;
    wanted = undefined;
    const found = await picture.probe(Math.floor(at.x), Math.floor(at.y)).catch(() => undefined);
    if (!over.value) continue;
    emit('probe', found, screen);
    tool.over(found);
  }
  probing = false;
}

function pointerDown(e: PointerEvent): void {
  if (e.button !== 0 || space.value || before.value === true) return;
  (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
  held.value = true;
  tool.down(placeOf(e).at);
}
function pointerMove(e: PointerEvent): void {
  const next = placeOf(e);
  pointer.value = next.screen;
  void probe(next);
  if (e.buttons & 1 && !space.value) tool.drag(next.at);
}
function pointerUp(): void {
  held.value = false;
  tool.up();
}
function pointerLeave(): void {
  over.value = false;
  tool.leave();
  emit('probe', undefined, { x: 0, y: 0 });
}

/** Where a click waits for IDs that are still being read, on the screen. */
const waiting = computed(() => {
  const at = tool.waiting.value;
  const { k, x, y } = place.value;
  return at && { x: at.x * k + x, y: at.y * k + y };
});

// ---- divider

const moveDivider = (share: number) => emit('update:divider', Math.min(1, Math.max(0, share)));
function dragDivider(e: PointerEvent): void {
  const handle = e.currentTarget as HTMLElement;
  handle.setPointerCapture(e.pointerId);
  const move = (m: PointerEvent) => {
    const box = canvas.value!.getBoundingClientRect();
    moveDivider((m.clientX - box.left) / box.width);
  };
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), { once: true });
}
const nudgeDivider = (by: number) => moveDivider((props.look.divider ?? 0.5) + by);

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
  if (fitted) fit();
  redraw();
});
onMounted(() => {
  const element = canvas.value!;
  context = element.getContext('2d') ?? undefined;
  select(element).call(behaviour).on('dblclick.zoom', null);
});
</script>

<template>
  <div class="viewer" :class="{ pan: space, beside: look.beside }">
    <canvas
      ref="canvas"
      aria-label="Picture"
      role="img"
      :data-rests="framing ? undefined : resting"
      @pointerdown="pointerDown"
      @pointermove="pointerMove"
      @pointerup="pointerUp"
      @pointercancel="pointerUp"
      @pointerenter="over = true"
      @pointerleave="pointerLeave"
      @contextmenu.prevent="openMenu"
    />
    <canvas
      v-if="look.beside"
      ref="second"
      class="second"
      :aria-label="look.beside === 'mask' ? 'Mask' : 'Picture before'"
      role="img"
      @pointerdown="pointerDown"
      @pointermove="pointerMove"
      @pointerup="pointerUp"
      @pointercancel="pointerUp"
      @pointerenter="over = true"
      @pointerleave="pointerLeave"
      @contextmenu.prevent="openMenu"
    />
    <div
      v-if="look.divider !== undefined"
      class="divider"
      role="slider"
      tabindex="0"
      aria-label="Divider between before and after"
      :aria-valuenow="Math.round(look.divider * 100)"
      aria-valuemin="0"
      aria-valuemax="100"
      :style="{ left: `${look.divider * 100}%` }"
      @pointerdown.prevent="dragDivider"
      @keydown.left.prevent="nudgeDivider(-0.02)"
      @keydown.right.prevent="nudgeDivider(0.02)"
    >
      <span class="tag left">before</span><span class="tag right">after</span>
    </div>
    <slot name="over" :place="place" :size="size" />
    <span v-if="look.holdBefore" class="badge">before</span>
    <span v-if="look.beside === 'before'" class="badge second-badge">before</span>
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
.divider {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 15px;
  margin-left: -7.5px;
  cursor: ew-resize;
  touch-action: none;
}
.divider::before {
  content: '';
  position: absolute;
  inset: 0 7px;
  background: #f2f2f2;
  outline: 1px solid #2b2b2b;
}
.tag,
.badge {
  position: absolute;
  padding: 1px 8px;
  background: var(--over);
  color: #f2f2f2;
  font-size: 12px;
}
.tag {
  top: 10px;
}
.tag.left {
  right: 16px;
}
.tag.right {
  left: 16px;
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
