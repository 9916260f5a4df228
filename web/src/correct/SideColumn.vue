<script setup lang="ts">
import { ChevronLeft, ChevronRight } from '@lucide/vue';

/** A column beside the picture that folds to a strip. */
defineProps<{ side: 'left' | 'right'; open: boolean; label: string; keyName: string }>();
defineEmits<{ flip: [] }>();
</script>

<template>
  <aside class="column" :class="[side, { folded: !open }]">
    <div v-if="open" class="body"><slot /></div>
    <button
      class="plain-button flip"
      type="button"
      :aria-expanded="open"
      :aria-label="`${open ? 'Fold away' : 'Show'} ${label}`"
      :title="`${open ? 'Fold away' : 'Show'} ${label} (key ${keyName}; both columns: key W)`"
      @click="$emit('flip')"
    >
      <ChevronLeft v-if="(side === 'left') === open" :size="14" />
      <ChevronRight v-else :size="14" />
    </button>
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
  flex-direction: row-reverse;
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
  width: 20px;
}
.flip:hover {
  background: var(--room);
  color: #fff;
}
</style>
