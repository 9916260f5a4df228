<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import type { StoredFile, Version } from '@zesty-crow/server/contract';
import { computed } from 'vue';
import type { Group } from '../shot/bring-in/add-files.ts';

/** Files that were dropped on an open version: added to it, or made the next one. */
const props = defineProps<{ group: Group; version: Version; sequence: boolean }>();
const emit = defineEmits<{ add: []; next: []; close: [] }>();
const rows = computed(() =>
  props.group.files.map(({ file, frame, role }) => {
    const name = file.path.slice(file.path.lastIndexOf('/') + 1);
    const same = (f: StoredFile) =>
      f.name === name && f.role === role && (!props.sequence || f.frame === frame);
    return { name, replaces: props.version.files.some(same) };
  }),
);
const count = computed(() => (rows.value.length === 1 ? 'this file' : `these ${rows.value.length} files`));
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="`Add to v${version.number}?`"
    width="min(560px, 92vw)"
    @close="emit('close')"
  >
    <ul class="scroll">
      <li v-for="row in rows" :key="row.name">
        <span class="cut" :title="row.name">{{ row.name }}</span>
        <span class="quiet">{{ row.replaces ? 'takes the place of the one there' : 'new' }}</span>
      </li>
    </ul>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton @click="emit('next')">Make a new version of {{ count }}</ElButton>
      <ElButton type="primary" @click="emit('add')">Add to v{{ version.number }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 46vh;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 12px;
  padding: 3px 0;
}
.quiet {
  color: var(--ink-quiet);
}
</style>
