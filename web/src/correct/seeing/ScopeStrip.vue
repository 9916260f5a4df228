<script setup lang="ts">
import { useElementSize, useLocalStorage } from '@vueuse/core';
import { Columns2, Square } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { Probe } from '../../picture/messages.ts';
import PinList from './PinList.vue';
import ScopePane from './ScopePane.vue';

/**
 * Scopes and pinned samples, in the room that the picture leaves below it. Where there is none they lie over its lower
 * edge, over a quarter of it at most; the picture never gives way.
 */
const props = defineProps<{
  probe: Probe | undefined;
  /** Pixels that are free below the picture. */
  free: number;
  /** Of the picture pixels that are on the screen, its height there. */
  shown: number;
}>();
/** Its height where it was never dragged. */
const USUAL = 210;
const two = useLocalStorage('scopes-two', true);
const wanted = useLocalStorage('scopes-height', USUAL);

/** Two stand side by side where each has room for its words. */
const root = ref<HTMLElement>();
const { width } = useElementSize(root);
const WIDE = 600;
const LEAST = 96;
const STEP = 16;
const most = computed(() => Math.max(LEAST, Math.floor(props.free + props.shown / 4)));
const height = computed(() => Math.min(most.value, Math.max(LEAST, wanted.value)));
const resize = (to: number) => (wanted.value = Math.min(most.value, Math.max(LEAST, Math.round(to))));
defineExpose({ height });
function drag(e: PointerEvent): void {
  const edge = e.currentTarget as HTMLElement;
  edge.setPointerCapture(e.pointerId);
  const from = height.value + e.clientY;
  const move = (m: PointerEvent) => resize(from - m.clientY);
  edge.addEventListener('pointermove', move);
  edge.addEventListener('pointerup', () => edge.removeEventListener('pointermove', move), { once: true });
}
</script>

<template>
  <section ref="root" class="strip" aria-label="Scopes" :style="{ height: `${height}px` }">
    <div
      class="edge"
      role="separator"
      tabindex="0"
      aria-orientation="horizontal"
      aria-label="Height of the scopes"
      :aria-valuenow="height"
      :aria-valuemin="LEAST"
      :aria-valuemax="most"
      @pointerdown.prevent="drag"
      @keydown.up.stop.prevent="resize(height + STEP)"
      @keydown.down.stop.prevent="resize(height - STEP)"
      @dblclick="resize(USUAL)"
    />
    <ScopePane :probe="probe" memory="scope" usual="histogram" />
    <ScopePane v-if="two && width > WIDE" :probe="probe" memory="second-scope" usual="vectorscope" />
    <div class="samples scroll"><PinList /></div>
    <div class="acts">
      <button
        v-if="width > WIDE"
        class="plain-button room-button"
        type="button"
        :aria-label="two ? 'One scope' : 'Two scopes'"
        :title="two ? 'One scope' : 'Two scopes side by side'"
        @click="two = !two"
      >
        <component :is="two ? Square : Columns2" :size="16" :stroke-width="1.6" />
      </button>
    </div>
  </section>
</template>

<style scoped>
.strip {
  position: absolute;
  inset: auto 0 0;
  z-index: 3;
  display: flex;
  gap: 10px;
  padding: 8px 6px 6px 10px;
  border-top: 1px solid var(--room-line);
  background: var(--room-deep);
  color: var(--on-room);
}
.edge {
  position: absolute;
  inset: -12px 0 auto;
  height: 24px;
  cursor: ns-resize;
  touch-action: none;
}
.samples {
  flex: 0 1 190px;
  min-width: 110px;
}
.samples :deep(.acts) {
  flex-wrap: wrap;
}
.acts {
  position: relative;
  display: flex;
  flex: none;
  flex-direction: column;
}
.acts button {
  display: grid;
  place-items: center;
  width: 26px;
  height: 26px;
  padding: 0;
}
</style>
