<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { describeSide, titleOf } from './describe-conflict.ts';
import type { MergeConflict } from './merge.ts';

/** What two windows have both edited, side by side. Until it is answered, the document holds the other window's. */
defineProps<{ conflicts: MergeConflict[] }>();
defineEmits<{ settle: [conflict: MergeConflict, side: 'mine' | 'theirs'] }>();
</script>

<template>
  <ElDialog
    model-value
    title="Edited in two windows at once"
    width="640"
    append-to-body
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
  >
    <p class="paper-hint">
      Both edits are kept in this browser until you choose, even if you close the page. Everything else was
      put together.
    </p>
    <article v-for="c in conflicts" :key="c.place.join('/')" class="conflict">
      <h3 class="paper-heading">{{ titleOf(c) }}</h3>
      <div class="sides">
        <section>
          <h4>This window</h4>
          <p v-for="line in describeSide(c.mine)" :key="line">{{ line }}</p>
          <ElButton size="small" type="primary" @click="$emit('settle', c, 'mine')">Take this one</ElButton>
        </section>
        <section>
          <h4>The other window</h4>
          <p v-for="line in describeSide(c.theirs)" :key="line">{{ line }}</p>
          <ElButton size="small" @click="$emit('settle', c, 'theirs')">Keep this one</ElButton>
        </section>
      </div>
    </article>
  </ElDialog>
</template>

<style scoped>
.conflict + .conflict {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--paper-line);
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
}
h4 {
  margin: 0 0 4px;
  font-weight: 550;
}
p {
  margin: 0 0 3px;
  overflow-wrap: anywhere;
}
.sides .el-button {
  margin-top: 8px;
}
</style>
