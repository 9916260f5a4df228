<script setup lang="ts">
import { ElButton } from 'element-plus';
import { Redo2, Undo2 } from '@lucide/vue';
import type { Undoable } from './document.ts';

/** The bar over a stage: the shot's name, what belongs to the stage, and what is saved. */
defineProps<{ name: string | undefined; document: Undoable }>();
</script>

<template>
  <header class="bar">
    <h1 class="cut" :title="name">{{ name }}</h1>
    <slot />
    <span class="space" />
    <span class="saving" aria-live="polite">
      {{ document.saving === 'saving' ? 'Saving…' : document.saving === 'unsaved' ? '' : 'All saved' }}
    </span>
    <ElButton v-if="document.saving === 'unsaved'" size="small" type="danger" @click="document.saveAgain()"
      >Not saved. Save again</ElButton
    >
    <button
      class="plain-button step"
      type="button"
      :disabled="document.undoLabel === undefined"
      :title="document.undoLabel ? `Undo: ${document.undoLabel} (Ctrl+Z)` : 'Nothing to undo'"
      aria-label="Undo"
      @click="document.undo()"
    >
      <Undo2 :size="18" :stroke-width="1.6" />
    </button>
    <button
      class="plain-button step"
      type="button"
      :disabled="document.redoLabel === undefined"
      :title="document.redoLabel ? `Redo: ${document.redoLabel} (Ctrl+Shift+Z)` : 'Nothing to redo'"
      aria-label="Redo"
      @click="document.redo()"
    >
      <Redo2 :size="18" :stroke-width="1.6" />
    </button>
    <slot name="end" />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 7px 12px;
  background: var(--room-deep);
  color: var(--on-room);
}
h1 {
  margin: 0;
  font-size: 17px;
  font-weight: 500;
}
.space {
  flex: 1;
}
.saving {
  color: var(--on-room-quiet);
  font-size: 13px;
  white-space: nowrap;
}
.step {
  display: grid;
  color: var(--on-room);
}
</style>
