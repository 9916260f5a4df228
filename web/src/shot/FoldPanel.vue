<script setup lang="ts">
import { ChevronDown, ChevronRight } from '@lucide/vue';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref } from 'vue';

/** A section of a stage's side that folds to its title and a summary. */
const props = defineProps<{
  title: string;
  summary: string;
  /** How it is at first. */
  opened?: boolean | undefined;
  /** Under which the browser remembers how it was left; without it nothing is. */
  memory?: string;
}>();
const remembered = useLocalStorage<Record<string, boolean>>('zesty-crow/folds', {});
const own = ref(props.opened ?? false);
const open = computed({
  get: () => (props.memory === undefined ? own.value : (remembered.value[props.memory] ?? own.value)),
  set(now: boolean) {
    own.value = now;
    if (props.memory !== undefined) remembered.value = { ...remembered.value, [props.memory]: now };
  },
});
</script>

<template>
  <section class="fold" :aria-label="title">
    <button class="plain-button head" type="button" :aria-expanded="open" @click="open = !open">
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
