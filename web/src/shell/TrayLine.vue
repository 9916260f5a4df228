<script setup lang="ts">
import { ElButton, ElProgress } from 'element-plus';

/** Something that takes its time: what it is, how far it is, and how it is cancelled. */
defineProps<{ what: string; text: string; share: number }>();
defineEmits<{ cancel: [] }>();
</script>

<template>
  <div class="line">
    <strong>{{ what }}</strong>
    <span class="cut" :title="text">{{ text }}</span>
    <slot />
    <ElButton size="small" text @click="$emit('cancel')">Cancel</ElButton>
  </div>
  <ElProgress
    aria-label="Progress"
    :percentage="Math.round(100 * share)"
    :stroke-width="5"
    :show-text="false"
    color="#33322e"
  />
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 8px;
}
.line .cut {
  flex: 1;
  color: var(--ink-quiet);
}
</style>
