<script setup lang="ts">
import { curveOf } from '@zesty-crow/core/corrections';
import type { Spread } from '@zesty-crow/core';
import { displayByte } from '@zesty-crow/core/colour';
import type { Field, PointsValue } from '@zesty-crow/core/fields';
import { computed, ref } from 'vue';
import { coloursOf } from './curve-colours.ts';
import { nearPoint, withMoved, withPoint, withoutPoint } from './curve-points.ts';

/**
 * By how much something is changed along an axis: a level line that is pulled up or down. Under it lie the colours of the
 * axis, and on them stands how much of the part is there, in its own colours. A click adds a point, a double-click or Delete takes one away.
 */
const props = defineProps<{
  field: Extract<Field, { kind: 'curve' }>;
  modelValue: PointsValue;
  /** The part's own colours along the axis. */
  spread?: readonly Spread[] | undefined;
}>();
const emit = defineEmits<{ 'update:modelValue': [value: PointsValue]; commit: []; moving: [on: boolean] }>();

const [WIDTH, HEIGHT, STRIP] = [260, 104, 9];
const flat = computed(() => props.modelValue.length === 0);
const open = ref(false);
const plot = ref<SVGSVGElement>();
const held = ref<number>();
/** The point that the keyboard moves. */
const focused = ref<number>();

const periodic = computed(() => props.field.axis === 'hue');
const xOf = (x: number) => x * WIDTH;
const yOf = (y: number) => HEIGHT / 2 - (y / props.field.reach) * (HEIGHT / 2 - 6);
const path = computed(() => {
  const curve = curveOf(props.modelValue, periodic.value);
  return Array.from(
    { length: 131 },
    (_, i) => `${xOf(i / 130).toFixed(1)} ${yOf(curve(i / 130)).toFixed(1)}`,
  ).join(' ');
});
/** The part's own colours, as high as there are many; roots, so that few are seen, too. */
const bars = computed(() =>
  (props.spread ?? []).flatMap(({ share, colour }, i, all) => {
    const high = Math.sqrt(share) * (HEIGHT - STRIP) * 0.55;
    const fill = `rgb(${colour.map((v) => Math.round(displayByte(v))).join(' ')})`;
    return high > 0.5 ? [{ x: (i * WIDTH) / all.length, width: WIDTH / all.length + 0.3, high, fill }] : [];
  }),
);
const colours = computed(() => coloursOf(props.field.axis, props.field.key));

function placeOf(e: MouseEvent): [number, number] {
  const box = plot.value!.getBoundingClientRect();
  const x = Math.min(1, Math.max(0, (e.clientX - box.left) / box.width));
  const y = ((0.5 - (e.clientY - box.top) / box.height) * HEIGHT) / (HEIGHT / 2 - 6);
  const { reach } = props.field;
  return [x, Math.min(reach, Math.max(-reach, y * reach))];
}
function down(e: PointerEvent): void {
  if (e.button !== 0) return;
  const place = placeOf(e);
  plot.value!.setPointerCapture(e.pointerId);
  const near = nearPoint(props.modelValue, place, props.field.reach);
  if (near === undefined && props.modelValue.length >= props.field.most) return;
  if (near !== undefined) held.value = near;
  else {
    const { points, at } = withPoint(props.modelValue, place);
    held.value = at;
    emit('update:modelValue', points);
  }
  focused.value = held.value;
  emit('moving', true);
}
function move(e: PointerEvent): void {
  if (held.value !== undefined)
    emit('update:modelValue', withMoved(props.modelValue, held.value, placeOf(e), props.field.reach));
}
function up(): void {
  if (held.value === undefined) return;
  held.value = undefined;
  emit('moving', false);
  emit('commit');
}
function remove(at: number | undefined): void {
  if (at === undefined) return;
  emit('update:modelValue', withoutPoint(props.modelValue, at));
  emit('commit');
  focused.value = undefined;
}
const removeAt = (e: MouseEvent) => remove(nearPoint(props.modelValue, placeOf(e), props.field.reach));
function reset(): void {
  emit('update:modelValue', []);
  emit('commit');
}
function key(e: KeyboardEvent, at: number): void {
  if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault();
    return remove(at);
  }
  const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key] ?? [
    0, 0,
  ];
  if (!dx && !dy) return;
  e.preventDefault();
  e.stopPropagation();
  const by = (e.shiftKey ? 10 : e.ctrlKey ? 0.1 : 1) / 100;
  const [x, y] = props.modelValue[at]!;
  const { reach } = props.field;
  emit('update:modelValue', withMoved(props.modelValue, at, [x + dx! * by, y + dy! * by * reach], reach));
  emit('commit');
}
const told = ([x, y]: readonly [number, number]) =>
  `${props.field.axis === 'hue' ? `${Math.round(360 * x)}°` : `${Math.round(100 * x)} %`}: ${y > 0 ? '+' : ''}${y.toFixed(1)} ${props.field.unit}`;
</script>

<template>
  <div class="curve" role="group" :aria-label="field.label">
    <header>
      <button class="plain-button" type="button" :aria-expanded="open || !flat" @click="open = !open">
        {{ field.label }}
      </button>
      <small v-if="flat">level</small>
      <small v-else-if="focused !== undefined && modelValue[focused]">{{ told(modelValue[focused]!) }}</small>
      <button v-if="!flat" class="plain-button level" type="button" @click="reset">Level it</button>
    </header>
    <svg
      v-if="open || !flat"
      ref="plot"
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      preserveAspectRatio="none"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="up"
      @dblclick="removeAt"
    >
      <rect
        v-for="(c, i) in colours"
        :key="i"
        :x="(i * WIDTH) / colours.length"
        :y="HEIGHT - STRIP"
        :width="WIDTH / colours.length + 0.5"
        :height="STRIP"
        :fill="c"
      />
      <rect
        v-for="b in bars"
        :key="b.x"
        :x="b.x"
        :y="HEIGHT - STRIP - b.high"
        :width="b.width"
        :height="b.high"
        :fill="b.fill"
      />
      <line class="zero" x1="0" :x2="WIDTH" :y1="HEIGHT / 2" :y2="HEIGHT / 2" />
      <polyline class="line" :points="path" />
      <circle
        v-for="(p, i) in modelValue"
        :key="i"
        tabindex="0"
        role="button"
        :aria-label="`Point at ${told(p)}`"
        :class="{ held: held === i || focused === i }"
        :cx="xOf(p[0])"
        :cy="yOf(p[1])"
        r="4.5"
        @focus="focused = i"
        @keydown="key($event, i)"
      />
    </svg>
  </div>
</template>

<style scoped>
.curve {
  padding: 2px 0 4px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 8px;
  min-height: 26px;
}
header > :first-child {
  flex: 1;
  text-align: left;
}
small {
  color: var(--ink-quiet);
  font-size: 13px;
}
.level {
  text-decoration: underline;
}
svg {
  display: block;
  width: 100%;
  height: 104px;
  background: #6e6e6e;
  cursor: crosshair;
  touch-action: none;
}
.zero {
  stroke: #9a9a9a;
  stroke-dasharray: 2 4;
}
.line {
  fill: none;
  stroke: #fff;
  stroke-width: 1.8;
  vector-effect: non-scaling-stroke;
}
circle {
  fill: #1b1b1b;
  stroke: #fff;
  stroke-width: 1.4;
  cursor: grab;
}
circle.held,
circle:focus-visible {
  fill: var(--lemon);
  stroke: #1b1b1b;
  outline: none;
}
</style>
