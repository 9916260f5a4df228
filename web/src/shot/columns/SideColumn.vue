<script setup lang="ts">
import { ChevronLeft, ChevronRight } from '@lucide/vue';

import { computed, nextTick, ref } from 'vue';
import type { Columns } from './use-columns.ts';

/** A column beside what a stage is about, with the button that folds it to a strip. */
const props = defineProps<{ side: 'left' | 'right'; column: NonNullable<Columns['left']> }>();
const emit = defineEmits<{ flip: [] }>();
const open = computed(() => props.column.open.value);
const words = computed(() => `${open.value ? 'Fold away' : 'Show'} ${props.column.label}`);
const root = ref<HTMLElement>();
/** The button is another one after that: who folded it by keyboard goes on from there. */
function flip(): void {
  const stage = root.value?.closest('.stage-columns');
  const by = document.activeElement === root.value?.querySelector('.flip');
  emit('flip');
  if (by)
    void nextTick(() =>
      stage?.querySelector<HTMLElement>(`.${props.side}.column > .flip`)?.focus({ preventScroll: true }),
    );
}
</script>

<template>
  <aside ref="root" class="column" :class="[side, { folded: !open }]">
    <div v-if="open && side === 'left'" class="body"><slot /></div>
    <button
      class="plain-button flip"
      type="button"
      :aria-expanded="open"
      :aria-label="words"
      :title="column.keyName ? `${words} (key ${column.keyName}; both columns: key W)` : words"
      @click="flip"
    >
      <ChevronLeft v-if="(side === 'left') === open" :size="14" />
      <ChevronRight v-else :size="14" />
    </button>
    <div v-if="open && side === 'right'" class="body"><slot /></div>
  </aside>
</template>

<style scoped>
.column {
  display: flex;
  height: 100%;
  min-width: 0;
  background: var(--room-deep);
}
.left.column {
  flex-direction: row;
}
.right.column {
  flex-direction: row;
}
.body {
  flex: 1;
  min-width: 0;
  height: 100%;
}
.flip {
  width: 14px;
  flex: none;
  display: grid;
  place-items: center;
  color: var(--on-room-quiet);
}
.folded .flip {
  width: 24px;
}
/* A finger is no arrow. */
@media (pointer: coarse) {
  .flip,
  .folded .flip {
    width: 28px;
  }
}
.flip:hover {
  background: var(--room);
  color: #fff;
}
</style>
