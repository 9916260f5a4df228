<script setup lang="ts">
import { select } from 'd3-selection';
import 'd3-transition';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import { computed, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue';
import { isIn, putIn, putOut } from '@zesty-crow/core';
import { useChanges } from '../correct/changes.ts';
import { useLook } from '../correct/look.ts';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { drawViewer, type Placement } from './draw.ts';
import { Surfaces } from './surfaces.ts';

const emit = defineEmits<{ probe: [probe: Probe | undefined]; zoomed: [percent: number] }>();

const picture = usePicture();
const changes = useChanges();
const view = useLook();

const canvas = ref<HTMLCanvasElement>();
const surfaces = shallowRef<Surfaces>();
const place = ref<Placement>({ k: 1, x: 0, y: 0 });
const size = ref({ width: 1, height: 1 });
const over = ref(false);
const space = ref(false);
const hover = shallowRef<Float32Array>();
let hovered = '';
let queued = false;
let context: CanvasRenderingContext2D | undefined;

// ---- drawing

const before = computed(() => (view.holdBefore ? true : view.divider !== undefined ? view.divider : false));

function redraw(): void {
  if (queued) return;
  queued = true;
  requestAnimationFrame(() => {
    queued = false;
    if (!context || !surfaces.value || !picture.opened) return;
    const picking = view.showPicks && !view.adjusting && (view.look === 'picture' || view.look === 'ids');
    const { dataWindow: d, displayWindow: w } = picture.opened;
    const whole = d.xMin === w.xMin && d.yMin === w.yMin && d.xMax === w.xMax && d.yMax === w.yMax;
    drawViewer(context, size.value.width, size.value.height, {
      surfaces: surfaces.value,
      place: place.value,
      density: devicePixelRatio,
      dim: picking && over.value && view.look === 'picture' && picture.outline.length > 0,
      outline: picking ? picture.outline : undefined,
      hover: picking && over.value ? hover.value : undefined,
      before: before.value,
      frame: whole
        ? undefined
        : { x: w.xMin - d.xMin, y: w.yMin - d.yMin, width: w.xMax - w.xMin + 1, height: w.yMax - w.yMin + 1 },
    });
  });
}
watch(
  [
    place,
    size,
    over,
    hover,
    before,
    () => picture.outline,
    () => view.showPicks,
    () => view.adjusting,
    () => view.look,
  ],
  redraw,
);

picture.setSink((surface, tiles) => {
  surfaces.value?.put(surface, tiles);
  redraw();
});

// ---- zoom and pan

const behaviour = zoom<HTMLCanvasElement, unknown>()
  .scaleExtent([0.02, 64])
  .filter((e: MouseEvent) => e.type === 'wheel' || e.button === 1 || (e.button === 0 && space.value))
  .on('zoom', (e: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
    place.value = { k: e.transform.k, x: e.transform.x, y: e.transform.y };
    emit('zoomed', e.transform.k * 100);
  });

function setPlace(k: number, x: number, y: number): void {
  if (canvas.value) select(canvas.value).call(behaviour.transform, zoomIdentity.translate(x, y).scale(k));
}
function fit(): void {
  const o = picture.opened;
  if (!o) return;
  const { width, height } = size.value;
  const k = Math.min((width - 32) / o.width, (height - 32) / o.height);
  setPlace(k, (width - o.width * k) / 2, (height - o.height * k) / 2);
}
/** Zooms about the viewer's middle to a scale of picture pixels to screen pixels. */
function zoomTo(k: number): void {
  if (canvas.value) select(canvas.value).call(behaviour.scaleTo, k);
}
defineExpose({ fit, zoomTo, zoomBy: (factor: number) => zoomTo(place.value.k * factor) });

watch(
  () => picture.opened,
  (o) => {
    surfaces.value = o && new Surfaces(o.width, o.height);
    hover.value = undefined;
    if (o) fit();
    redraw();
  },
  { flush: 'sync' },
);

// ---- pointer

function pixelAt(e: PointerEvent): { x: number; y: number } {
  const box = canvas.value!.getBoundingClientRect();
  return {
    x: (e.clientX - box.left - place.value.x) / place.value.k,
    y: (e.clientY - box.top - place.value.y) / place.value.k,
  };
}

let probing = false;
let wanted: { x: number; y: number } | undefined;
let lastProbe: Probe | undefined;

async function probe(at: { x: number; y: number }): Promise<void> {
  wanted = at;
  if (probing) return;
  probing = true;
  while (wanted) {
    const { x, y }: { x: number; y: number } = wanted;
    wanted = undefined;
    lastProbe = await picture.probe(Math.floor(x), Math.floor(y));
    emit('probe', lastProbe);
    await showHover();
  }
  probing = false;
}

/** The member a click would take: the one the `behind` counter points at, among those under the pointer. */
function meant(p: Probe | undefined): { id: number; name: string } | undefined {
  const ids = p?.layers.find((l) => l.layer === view.layer)?.ids;
  return ids?.length ? ids[view.behind % ids.length] : undefined;
}

async function showHover(): Promise<void> {
  const member = meant(lastProbe);
  const key = member ? `${view.layer} ${member.id}` : '';
  if (key === hovered) return;
  hovered = key;
  const outline = member ? await picture.memberOutline(view.layer!, member.id) : undefined;
  if (key === hovered) hover.value = outline;
}
watch([() => view.layer, () => view.behind], () => void showHover());

/** The sweep under way: whether members go in or out, and where the pointer was. */
let sweep: { layer: string; way: 'in' | 'out'; touched: Set<string>; x: number; y: number } | undefined;
let chain: Promise<void> = Promise.resolve();

function apply(members: { id: number; name: string }[]): void {
  if (!sweep) return;
  let who = changes.open?.who ?? [];
  for (const m of members) {
    if (sweep.touched.has(m.name)) continue;
    sweep.touched.add(m.name);
    who = sweep.way === 'in' ? putIn(who, sweep.layer, m) : putOut(who, sweep.layer, m);
  }
  if (who !== changes.open?.who) changes.setWho(who);
}

function pointerDown(e: PointerEvent): void {
  if (e.button !== 0 || space.value || !view.layer || before.value === true) return;
  canvas.value!.setPointerCapture(e.pointerId);
  const { x, y } = pixelAt(e);
  const layer = view.layer;
  chain = chain.then(async () => {
    const member = meant(await picture.probe(Math.floor(x), Math.floor(y)));
    if (!member) return;
    sweep = {
      layer,
      way: isIn(changes.open?.who ?? [], layer, member) ? 'out' : 'in',
      touched: new Set(),
      x,
      y,
    };
    apply([member]);
  });
}
function pointerMove(e: PointerEvent): void {
  const at = pixelAt(e);
  void probe(at);
  if (!(e.buttons & 1) || space.value) return;
  chain = chain.then(async () => {
    if (!sweep || Math.hypot(at.x - sweep.x, at.y - sweep.y) * place.value.k < 3) return;
    const from = { x: sweep.x, y: sweep.y };
    sweep.x = at.x;
    sweep.y = at.y;
    apply(await picture.membersAlong(sweep.layer, from.x, from.y, at.x, at.y));
  });
}
function pointerUp(): void {
  chain = chain.then(async () => {
    if (!sweep) return;
    const { touched, way } = sweep;
    sweep = undefined;
    const what = touched.size === 1 ? [...touched][0]! : `${touched.size} members`;
    await changes.commit(`${way === 'in' ? 'Put in' : 'Take out'} ${what}`.slice(0, 200));
  });
}
function pointerLeave(): void {
  over.value = false;
  hovered = '';
  hover.value = undefined;
  lastProbe = undefined;
  emit('probe', undefined);
}

// ---- divider

function dragDivider(e: PointerEvent): void {
  const handle = e.currentTarget as HTMLElement;
  handle.setPointerCapture(e.pointerId);
  const move = (m: PointerEvent) => {
    const box = canvas.value!.getBoundingClientRect();
    view.divider = Math.min(1, Math.max(0, (m.clientX - box.left) / box.width));
  };
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), { once: true });
}
function nudgeDivider(by: number): void {
  view.divider = Math.min(1, Math.max(0, (view.divider ?? 0.5) + by));
}

// ---- life

const setSpace = (on: boolean) => (e: KeyboardEvent) => {
  const target = e.target as HTMLElement;
  if (e.code !== 'Space' || target.closest('input, textarea, button, [role="switch"]')) return;
  e.preventDefault();
  space.value = on;
};
const spaceDown = setSpace(true);
const spaceUp = setSpace(false);
let observer: ResizeObserver | undefined;

onMounted(() => {
  const element = canvas.value!;
  context = element.getContext('2d') ?? undefined;
  select(element).call(behaviour).on('dblclick.zoom', null);
  observer = new ResizeObserver(([entry]) => {
    const { width, height } = entry!.contentRect;
    const first = size.value.width === 1;
    element.width = Math.round(width * devicePixelRatio);
    element.height = Math.round(height * devicePixelRatio);
    size.value = { width, height };
    if (first) fit();
    redraw();
  });
  observer.observe(element.parentElement!);
  addEventListener('keydown', spaceDown);
  addEventListener('keyup', spaceUp);
});
onUnmounted(() => {
  observer?.disconnect();
  removeEventListener('keydown', spaceDown);
  removeEventListener('keyup', spaceUp);
});
</script>

<template>
  <div class="viewer" :class="{ pan: space }">
    <canvas
      ref="canvas"
      aria-label="Picture"
      role="img"
      @pointerdown="pointerDown"
      @pointermove="pointerMove"
      @pointerup="pointerUp"
      @pointercancel="pointerUp"
      @pointerenter="over = true"
      @pointerleave="pointerLeave"
    />
    <div
      v-if="view.divider !== undefined"
      class="divider"
      role="slider"
      tabindex="0"
      aria-label="Divider between before and after"
      :aria-valuenow="Math.round(view.divider * 100)"
      aria-valuemin="0"
      aria-valuemax="100"
      :style="{ left: `${view.divider * 100}%` }"
      @pointerdown.prevent="dragDivider"
      @keydown.left.prevent="nudgeDivider(-0.02)"
      @keydown.right.prevent="nudgeDivider(0.02)"
    >
      <span class="tag left">before</span><span class="tag right">after</span>
    </div>
    <span v-if="view.holdBefore" class="badge">before</span>
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
  background: rgb(27 27 27 / 80%);
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
</style>
