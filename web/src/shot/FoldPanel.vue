<script setup lang="ts">
import { ChevronDown, ChevronRight } from '@lucide/vue';
import { ref } from 'vue';

/** A section of a stage's side that folds to its title and a summary. */
const props = defineProps<{ title: string; summary: string; opened?: boolean | undefined }>();
const emit = defineEmits<{ flip: [open: boolean] }>();
const open = ref(props.opened);
function flip(): void {
  open.value = !open.value;
  emit('flip', open.value);
}
</script>

<template>
  <section class="fold" :aria-label="title">
    <button class="plain-button head" type="button" :aria-expanded="open" @click="flip">
      <component :is="open ? ChevronDown : ChevronRight" :size="14" />
      <slot name="icon" />
      <span>{{ title }}</span><span class="summary cut">{{ summary }}</span>
    </button>
    <slot v-if="open" />
  </section>
</template>

<style scoped>
.fold {
  flex: none;
  border-top: 1px solid var(--room-line);
  background: var(--room-deep);
  color: var(--on-room);
}
.head {
  display: flex;
  align-items: center;
  gap: 6px;
  width: 100%;
  padding: 7px 10px;
  text-align: left;
}
.head :deep(svg) {
  flex: none;
}
.summary {
  color: var(--on-room-quiet);
  font-size: 13px;
}
</style>
