<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import Konva from 'konva';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { stepAt } from '@zesty-crow/core/changes';
import { wholeValues, type FieldValue, type FieldValues } from '@zesty-crow/core/fields';
import { correctionOf, settingsOf } from '@zesty-crow/core/corrections';
import { fenceKindOf, fenceSettings, shifted, type Handle, type Point } from '@zesty-crow/core/masks';
import { toShares, type Size } from '@zesty-crow/core/planes';
import { usePicture } from '../picture/picture.ts';
import type { Placement } from '../viewer/placement.ts';
import { useChanges } from '../shot/changes/changes.ts';
import { useWay } from './frames/use-way.ts';
import { useView } from '../shot/view.ts';

/** The unfolded shape of the open change's fence in the picture, with handles that move it by pointer and by keys. */
const props = defineProps<{ placement: Placement; size: Size }>();
const changes = useChanges();
const picture = usePicture();
const view = useView();

const NEAR = 7;
/** A shape of the fence, or what a correction lays into the picture. */
const moved = computed(() => {
  const { owner, open } = changes;
  const meant = (s: { id: string; on: boolean }) => s.id === view.fenceShape && s.on;
  const shape = owner?.fence.find(meant);
  const fence = shape && fenceKindOf(shape.kind);
  if (shape && fence)
    return {
      list: 'fence' as const,
      use: shape,
      kind: fence,
      fields: fenceSettings(fence),
      label: fence.label,
    };
  const laid = open?.corrections.find(meant);
  const correction = laid && correctionOf(laid.kind);
  if (!laid || !correction?.placement) return undefined;
  // Nothing is there to be moved yet.
  if (correction.idle?.(wholeValues(settingsOf(correction), laid.values))) return undefined;
  return {
    list: 'corrections' as const,
    use: laid,
    kind: correction.placement,
    fields: settingsOf(correction),
    label: correction.short ?? correction.label,
  };
});
const use = computed(() => moved.value?.use);
const kind = computed(() => moved.value?.kind);
const frame = computed(() => picture.size);
/** As far as what it follows has gone. */
const way = useWay(() => use.value?.follow);
/** At the frame that is open. */
const values = computed(() => {
  if (!moved.value) return undefined;
  const { list, use: step, fields } = moved.value;
  const now = changes.frame === undefined ? step : stepAt(step, list, changes.frame);
  return shifted(wholeValues(fields, now.values), way.value);
});
const handles = computed((): Handle[] =>
  kind.value && values.value && frame.value ? kind.value.handles(values.value, frame.value) : [],
);

const toScreen = ([x, y]: Point): Point => [
  x * props.placement.k + props.placement.x,
  y * props.placement.k + props.placement.y,
];
const toPicture = (x: number, y: number): Point => [
  (x - props.placement.x) / props.placement.k,
  (y - props.placement.y) / props.placement.k,
];

/** Sets what a handle has moved, within what each setting may be. */
function set(values: Partial<Record<string, FieldValue>>): void {
  if (!moved.value || !changes.owner) return;
  const { list, fields } = moved.value;
  const [dx, dy] = way.value;
  const placed = dx || dy ? shifted(values as FieldValues, [-dx, -dy]) : values;
  const held = Object.entries(placed).flatMap(([key, value]): [string, FieldValue][] => {
    const field = fields.find((f) => f.key === key);
    if (value === undefined) return [];
    const within =
      field?.kind === 'number' ? Math.min(field.max, Math.max(field.min, value as number)) : value;
    return [[key, within]];
  });
  changes.setValues(changes.owner, list, moved.value.use.id, Object.fromEntries(held));
}
function drag(key: string, to: Point): void {
  if (kind.value && values.value && frame.value) set(kind.value.drag(values.value, frame.value, key, to));
}
const commit = () => void changes.commit(`Move ${moved.value?.label.toLowerCase() ?? 'shape'}`);

// ---- points of drawn shapes

type Points = readonly (readonly [number, number])[];
const points = computed(() => values.value?.['points'] as Points | undefined);
/** As many as a shape may have. */
const most = computed(() => moved.value?.fields.find((f) => f.kind === 'points')?.most ?? 0);
function addPoint(at: Point): void {
  const own = points.value;
  if (!own || !frame.value || own.length >= most.value) return;
  const p = toShares(frame.value, at);
  // Into the side that is nearest.
  const away = own.map(([ax, ay], i) => {
    const [bx, by] = own[(i + 1) % own.length]!;
    const [ex, ey] = [bx - ax, by - ay];
    const t = ((p[0] - ax) * ex + (p[1] - ay) * ey) / Math.max(1e-9, ex * ex + ey * ey);
    const s = Math.min(1, Math.max(0, t));
    return Math.hypot(p[0] - ax - s * ex, p[1] - ay - s * ey);
  });
  const side = away.indexOf(Math.min(...away));
  set({ points: [...own.slice(0, side + 1), p, ...own.slice(side + 1)] });
  void changes.commit('Add a point');
}
function removePoint(key: string): void {
  const [what, at] = key.split(' ');
  if (what !== 'point' || !points.value || points.value.length <= 3) return;
  set({ points: points.value.filter((_, i) => i !== Number(at)) });
  void changes.commit('Remove a point');
}

// ---- drawing

const element = ref<HTMLDivElement>();
let stage: Konva.Stage | undefined;
const layer = new Konva.Layer();
let dragging = false;

function draw(): void {
  if (!stage || dragging) return;
  stage.size(props.size);
  layer.destroyChildren();
  if (!kind.value || !values.value || !frame.value) return void layer.draw();
  for (const line of kind.value.outline(values.value, frame.value)) {
    const flat = line.flatMap((p) => [...toScreen(p)]);
    layer.add(
      new Konva.Line({ points: flat, stroke: '#1b1b1b', strokeWidth: 3, opacity: 0.7, listening: false }),
    );
    const thin = new Konva.Line({ points: flat, stroke: '#f2f2f2', strokeWidth: 1, hitStrokeWidth: 9 });
    thin.listening(points.value !== undefined);
    thin.on('pointerdown', () => {
      const at = stage!.getPointerPosition();
      if (at) addPoint(toPicture(at.x, at.y));
    });
    layer.add(thin);
  }
  for (const { key, at } of handles.value) {
    const [x, y] = toScreen(at);
    const dot = new Konva.Circle({
      x,
      y,
      radius: key === 'middle' ? 6 : 5,
      fill: focused.value === key ? '#e8d44d' : '#f2f2f2',
      stroke: '#1b1b1b',
      strokeWidth: 1.5,
      hitStrokeWidth: NEAR,
      draggable: true,
    });
    dot.on('dragstart', () => {
      dragging = true;
      view.adjusting = true;
    });
    dot.on('dragmove', () => drag(key, toPicture(dot.x(), dot.y())));
    dot.on('dragend', () => {
      dragging = false;
      view.adjusting = false;
      commit();
      draw();
    });
    dot.on('dblclick', () => removePoint(key));
    layer.add(dot);
  }
  layer.draw();
}

// ---- keys

const focused = ref<string>();
const ARROWS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
function press(e: KeyboardEvent, { key, at }: Handle): void {
  if (e.key === 'Delete') return removePoint(key);
  const by = ARROWS[e.key];
  if (!by) return;
  e.preventDefault();
  const far = e.shiftKey ? 10 : e.ctrlKey ? 0.1 : 1;
  drag(key, [at[0] + by[0] * far, at[1] + by[1] * far]);
}
/** A run of key presses is one step of the history. */
function release(e: KeyboardEvent): void {
  if (ARROWS[e.key]) commit();
}

onMounted(() => {
  stage = new Konva.Stage({ container: element.value!, width: props.size.width, height: props.size.height });
  stage.add(layer);
  draw();
});
onBeforeUnmount(() => stage?.destroy());
watch([use, values, frame, () => props.placement, () => props.size, focused], draw, { deep: true });

/** Only what is drawn takes the pointer; elsewhere the picture has it. */
const taking = ref(false);
useEventListener(
  window,
  'pointermove',
  (e: PointerEvent) => {
    if (!stage || dragging || !element.value) return;
    const box = element.value.getBoundingClientRect();
    taking.value = stage.getIntersection({ x: e.clientX - box.left, y: e.clientY - box.top }) !== null;
  },
  { capture: true },
);
</script>

<template>
  <div v-show="use" ref="element" class="fence" :class="{ taking }" />
  <ul v-if="use" class="handles" aria-label="Handles of the shape">
    <li v-for="h in handles" :key="h.key">
      <button
        type="button"
        @focus="focused = h.key"
        @blur="focused = undefined"
        @keydown="press($event, h)"
        @keyup="release"
      >
        {{ h.label }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.fence {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.fence.taking {
  pointer-events: auto;
  cursor: move;
}
/* Reached by the Tab key; the dot that is meant is shown in the picture. */
.handles {
  position: absolute;
  width: 1px;
  height: 1px;
  margin: 0;
  padding: 0;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
}
</style>
