<script setup lang="ts">
import { ElButton } from 'element-plus';
import { History, Redo2, Undo2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import ConflictDialog from './ConflictDialog.vue';
import type { Undoable } from './document.ts';
import HistorySheet from './HistorySheet.vue';

/** The bar over a stage: the shot's name, what belongs to the stage, and what is saved. */
const props = defineProps<{ name: string | undefined; document: Undoable }>();
const history = ref(false);
const told = computed(() => {
  const { saving, conflicts } = props.document;
  if (conflicts.length)
    return conflicts.length > 1 ? `${conflicts.length} edits need your choice` : 'An edit needs your choice';
  return { saving: 'Saving…', unsaved: '', saved: 'All saved' }[saving];
});
</script>

<template>
  <header class="bar">
    <h1 class="cut" :title="name">{{ name }}</h1>
    <slot />
    <span class="space" />
    <span class="saving" :class="document.saving" aria-live="polite">
      {{ told }}
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
    <button
      class="plain-button step"
      type="button"
      title="All that was done, and states to go back to"
      aria-label="History"
      @click="history = true"
    >
      <History :size="18" :stroke-width="1.6" />
    </button>
    <slot name="end" />
    <HistorySheet v-if="history" :document="document" @close="history = false" />
    <ConflictDialog
      v-if="document.conflicts.length"
      :conflicts="document.conflicts"
      @settle="(conflict, side) => document.settleConflict(conflict, side)"
    />
  </header>
  <div v-for="left in document.leftBehind" :key="left.key" class="left-behind" role="status">
    <span class="cut">
      “{{ left.unsent.label }}” of {{ new Date(left.unsent.at).toLocaleString('en') }} was never saved: its
      window was closed before the server had it.
    </span>
    <ElButton size="small" type="primary" @click="document.settleLeft(left.key, true)"
      >Bring it back</ElButton
    >
    <ElButton size="small" @click="document.settleLeft(left.key, false)">Discard</ElButton>
  </div>
</template>

<style scoped>
.bar {
  container-type: inline-size;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 7px 12px;
  background: var(--room-deep);
  color: var(--on-room);
}
h1 {
  flex: 0 2 auto;
  min-width: 74px;
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
/* Where there is little room only what is not as it should be is told. */
@container (max-width: 540px) {
  .saving.saved {
    display: none;
  }
}
.step {
  display: grid;
  color: var(--on-room);
}
.left-behind {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 5px 12px;
  background: var(--paper);
  color: var(--ink);
}
.left-behind .cut {
  flex: 1;
}
</style>
