<script setup lang="ts">
import { computed } from 'vue';
import type { Placement } from '../../viewer/placement.ts';
import { useView } from '../../shot/view.ts';

/** Where samples are pinned, in the picture. */
const props = defineProps<{ placement: Placement }>();
const view = useView();
const marks = computed(() =>
  view.pins.flatMap((pin, i) => {
    if (!('side' in pin)) return [];
    const { k, x, y } = props.placement;
    const side = Math.max(7, pin.side * k);
    return [{ i, side, x: (pin.x + 0.5) * k + x - side / 2, y: (pin.y + 0.5) * k + y - side / 2 }];
  }),
);
</script>

<template>
  <span
    v-for="m in marks"
    :key="m.i"
    class="pin"
    :style="{ left: `${m.x}px`, top: `${m.y}px`, width: `${m.side}px`, height: `${m.side}px` }"
    ><b>{{ m.i + 1 }}</b></span
  >
</template>

<style scoped>
.pin {
  position: absolute;
  border: 1px solid #fff;
  outline: 1px solid #000;
  pointer-events: none;
}
b {
  position: absolute;
  bottom: 100%;
  left: 100%;
  padding: 0 4px;
  background: var(--over);
  color: #f2f2f2;
  font-size: 11px;
  font-weight: 500;
}
</style>
