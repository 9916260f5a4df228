import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Area, CutOutGround, Family, Stroke } from '@zesty-crow/core';
import type { DisplayTable, DisplayUse } from '@zesty-crow/core/display';
import type { Against, ModeName, SamplePlace } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import type { ValueTarget } from '../viewer/tools/value.ts';

/** `before`: in the place of the picture; `side`: beside it; `mask`: the open mask beside it. */
export type Comparison = 'off' | 'before' | 'divider' | 'side' | 'mask';

/** How the picture is looked at and what a click takes. Kept while the shot is open. */
export const useView = defineStore('view', () => {
  const picture = usePicture();
  const mode = ref<ModeName>('picture');
  /** View exposure in stops, view gamma, and a display transform: they change the screen, never the picture. */
  const stops = ref(0);
  const gamma = ref(1);
  const transform = ref('srgb');
  /** A look-up table in place of the transform. */
  const table = shallowRef<DisplayTable>();
  const display = computed<DisplayUse>(() => ({
    stops: stops.value,
    gamma: gamma.value,
    transform: transform.value,
    table: table.value,
  }));
  /** What before is, and how many times as large differences from it are shown. */
  const against = ref<Against>({ kind: 'rendered' });
  const gain = ref(4);
  /** Names of warnings that are marked. */
  const warnings = ref<string[]>([]);
  /** Where values are read while others move. */
  const pins = ref<SamplePlace[]>([]);
  const showPicks = ref(true);
  /** What is not picked is dimmed while the pointer is over the picture. */
  const dims = ref(true);
  /** The pointer carries what lies under it. */
  const tags = ref(true);
  /** Name of the ID layer that clicks and the ID map use. */
  const layer = ref<string>();
  /** The correction whose limit is shown in the mask. */
  const limitOf = ref<string>();
  /** The shape of a fence that is shown in the picture with its handles. */
  const fenceShape = ref<string>();
  /** Which of the IDs under the pointer is meant: 0 the front one. */
  const behind = ref(0);
  /** What the pointer does in the picture: the name of a tool of the stage. */
  const tool = ref('pick');
  /** The setting for which the next click takes a colour: the id of its step, and its key. */
  const sampling = ref<string>();
  /** What is done with it. */
  let sampled: (colour: readonly [number, number, number], at: { x: number; y: number }) => void = () =>
    undefined;
  /** The next click takes the mean of the member there, in place of a pixel's colour. */
  const takingPart = ref(false);
  function takeColour(what: string, done: typeof sampled): void {
    const again = sampling.value === what;
    sampling.value = again ? undefined : what;
    sampled = done;
    takingPart.value = false;
    tool.value = again ? 'pick' : 'sample';
  }
  function takePart(what: string, done: typeof sampled): void {
    takeColour(what, done);
    takingPart.value = tool.value === 'sample';
  }
  /** The value that is dragged in the picture: how it moves, by screen pixels to the right, and when that ends. */
  const dragged = shallowRef<ValueTarget & { what: string }>();
  function dragValue(value: NonNullable<typeof dragged.value>): void {
    const again = dragged.value?.what === value.what;
    dragged.value = again ? undefined : value;
    tool.value = again ? 'pick' : 'value';
  }
  /** The next click pins the values there. */
  const pinNext = () => takeColour('pin', (_, at) => (pins.value = [...pins.value, { ...at, side: 3 }]));
  function colourTaken(colour: readonly [number, number, number], at: { x: number; y: number }): void {
    sampling.value = undefined;
    tool.value = 'pick';
    sampled(colour, at);
  }
  watch(tool, (now) => {
    if (now !== 'sample') {
      sampling.value = undefined;
      takingPart.value = false;
    }
    if (now !== 'value') dragged.value = undefined;
  });
  /** What a lasso or a box takes. */
  const enclosed = ref<'inside' | 'touched'>('inside');
  /** What the next strokes are like: percent of the width, share of the radius. */
  const stroke = ref<{ -readonly [K in 'way' | 'size' | 'soft']: Stroke[K] }>({
    way: 'add',
    size: 2,
    soft: 0.4,
  });
  /** Only the open change is applied. */
  const alone = ref(false);
  /** What is shown beside the picture. */
  const beside = ref<'mask' | 'before'>();
  const flipBeside = (what: 'mask' | 'before') => (beside.value = beside.value === what ? undefined : what);
  /** What cut-outs lie on. */
  const ground = ref<CutOutGround>('chequers');
  /** Outline of what a list points at. */
  const highlight = shallowRef<Float32Array>();
  /** The pick, by its place in the open change, for which the next click takes another member. */
  const swapping = ref<number>();
  /** A part of the picture that is to be seen, if it is out of sight. */
  const revealed = shallowRef<Area>();
  const divider = ref<number>();
  /** Before is in the place of the picture: while a key or a button is held, or until something else is compared. */
  const held = ref(false);
  const keepBefore = ref(false);
  const holdBefore = computed({
    get: () => held.value || keepBefore.value,
    set(on: boolean) {
      held.value = on;
      if (on) keepBefore.value = false;
    },
  });
  /** How the picture is compared; one way at a time. */
  const comparison = computed({
    get: (): Comparison => {
      if (keepBefore.value) return 'before';
      if (divider.value !== undefined) return 'divider';
      if (beside.value === undefined) return 'off';
      return beside.value === 'mask' ? 'mask' : 'side';
    },
    set(way: Comparison) {
      keepBefore.value = way === 'before';
      divider.value = way === 'divider' ? 0.5 : undefined;
      beside.value = way === 'mask' ? 'mask' : way === 'side' ? 'before' : undefined;
    },
  });
  /** True while a value is being dragged: outlines would be in the way. */
  const adjusting = ref(false);

  const layers = computed(() => picture.cast.map((l) => l.name));
  const family = computed<Family | undefined>(() => picture.cast.find((l) => l.name === layer.value)?.family);
  watch(layers, (names) => {
    if (!layer.value || !names.includes(layer.value)) layer.value = names[0];
  });
  watch(layer, () => (behind.value = 0));

  function nextLayer(): void {
    const at = layers.value.indexOf(layer.value ?? '');
    layer.value = layers.value[(at + 1) % layers.value.length];
  }
  /** How it is shown goes back to what is usual. */
  function resetView(): void {
    stops.value = 0;
    gamma.value = 1;
    transform.value = 'srgb';
    table.value = undefined;
    warnings.value = [];
    showPicks.value = dims.value = tags.value = true;
  }
  function reset(): void {
    mode.value = 'picture';
    resetView();
    against.value = { kind: 'rendered' };
    pins.value = [];
    behind.value = 0;
    fenceShape.value = undefined;
    tool.value = 'pick';
    alone.value = false;
    beside.value = undefined;
    highlight.value = swapping.value = undefined;
    comparison.value = 'off';
    held.value = false;
  }
  return {
    mode,
    stops,
    gamma,
    transform,
    table,
    display,
    against,
    gain,
    warnings,
    pins,
    showPicks,
    dims,
    tags,
    comparison,
    resetView,
    layer,
    limitOf,
    fenceShape,
    layers,
    family,
    behind,
    tool,
    sampling,
    takeColour,
    colourTaken,
    pinNext,
    takingPart,
    takePart,
    dragged,
    dragValue,
    enclosed,
    stroke,
    alone,
    beside,
    flipBeside,
    ground,
    highlight,
    swapping,
    revealed,
    divider,
    holdBefore,
    keepBefore,
    adjusting,
    nextLayer,
    reset,
  };
});
