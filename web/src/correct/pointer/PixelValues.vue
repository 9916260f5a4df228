<script setup lang="ts">
import { computed } from 'vue';
import { through } from '@zesty-crow/core/colour';
import { shownColour } from '@zesty-crow/core/display';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useView } from '../../shot/view.ts';

/** The values under the pointer in one line that never changes its height. */
const props = defineProps<{ probe: Probe | undefined }>();
const picture = usePicture();
const view = useView();

const origin = computed(() => picture.opened?.dataWindow ?? { xMin: 0, yMin: 0 });
const linear = (v: number) => (Math.abs(v) >= 100 ? v.toFixed(1) : v.toFixed(4));
const display = (c: readonly [number, number, number]) =>
  shownColour(c, view.display)
    .map((v) => String(Math.round(255 * v)).padStart(3, '\u2007'))
    .join(' ');
/** As rendered, where a correction has made it something else. */
const was = computed(() => {
  const { before, after } = props.probe ?? {};
  return before && after && !view.holdBefore && before.some((v, k) => v !== after[k]) ? before : undefined;
});
const shown = computed(() => (view.holdBefore ? props.probe?.before : props.probe?.after));
/** In the screen's own primaries. */
const onScreen = computed(() => {
  const toScreen = picture.opened?.toScreen;
  return toScreen && shown.value ? through(toScreen, shown.value) : shown.value;
});
</script>

<template>
  <dl class="values" aria-label="Values under the pointer">
    <template v-if="probe && shown">
      <dt class="place">x, y</dt>
      <dd class="place">{{ probe.x + origin.xMin }}, {{ probe.y + origin.yMin }}</dd>
      <dt>linear</dt>
      <dd>{{ shown.map(linear).join('  ') }}</dd>
      <template v-if="was">
        <dt class="was">rendered</dt>
        <dd class="was">{{ was.map(linear).join('  ') }}</dd>
      </template>
      <dt class="on-screen">display</dt>
      <dd class="on-screen">{{ display(onScreen!) }}</dd>
      <dt>mask</dt>
      <dd>{{ (probe.mask * 100).toFixed(0) }} %</dd>
    </template>
  </dl>
</template>

<style scoped>
.values {
  display: flex;
  flex: none;
  gap: 5px;
  margin: 0;
  font-size: 13px;
  white-space: pre;
}
dt {
  color: var(--on-room-quiet);
}
dd {
  margin: 0 8px 0 0;
}
dd:last-child {
  margin-right: 0;
}
/* The bar is the container: what is left out first is what the tag and the eye tell anyway. */
@container (max-width: 980px) {
  .was {
    display: none;
  }
}
@container (max-width: 760px) {
  .place {
    display: none;
  }
}
@container (max-width: 620px) {
  .on-screen {
    display: none;
  }
}
@container (max-width: 540px) {
  dt {
    display: none;
  }
  dd {
    margin-right: 2px;
  }
}
</style>
