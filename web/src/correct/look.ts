import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import type { Family } from '@zesty-crow/core';
import type { Look } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';

/** How the picture is looked at and what a click takes. Kept while the shot is open. */
export const useLook = defineStore('look', () => {
  const picture = usePicture();
  const look = ref<Look>('picture');
  /** View exposure in stops; it changes the screen, never the picture. */
  const stops = ref(0);
  const showPicks = ref(true);
  /** Name of the ID layer that clicks and the ID map use. */
  const layer = ref<string>();
  /** The correction whose limit is shown in the mask. */
  const limitOf = ref<string>();
  /** The shape of a fence that is shown in the picture with its handles. */
  const fenceShape = ref<string>();
  /** Which of the IDs under the pointer is meant: 0 the front one. */
  const behind = ref(0);
  const divider = ref<number>();
  const holdBefore = ref(false);
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
  function reset(): void {
    look.value = 'picture';
    stops.value = 0;
    behind.value = 0;
    fenceShape.value = undefined;
    divider.value = undefined;
    holdBefore.value = false;
  }
  return {
    look,
    stops,
    showPicks,
    layer,
    limitOf,
    fenceShape,
    layers,
    family,
    behind,
    divider,
    holdBefore,
    adjusting,
    nextLayer,
    reset,
  };
});
