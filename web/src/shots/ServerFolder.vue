<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { Folder } from '@lucide/vue';
import type { FolderListing } from '@zesty-crow/server/contract';
import { onMounted, ref } from 'vue';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import type { Dropped } from '../shot/bring-in/add-files.ts';

/** A folder on the server's machine, to be brought in without sending it. Only what was allowed is to be seen. */
const emit = defineEmits<{ bring: [files: Dropped[]]; close: [] }>();
const listing = ref<FolderListing>();
/** The folders on the way here; the first is the list of those that are allowed. */
const way = ref<(string | null)[]>([]);
const busy = ref(false);

async function go(path: string | null): Promise<void> {
  try {
    listing.value = await api.folder(path ?? undefined);
    const at = way.value.indexOf(path);
    way.value = at < 0 ? [...way.value, path] : way.value.slice(0, at + 1);
  } catch (error) {
    notifyError(error);
  }
}
onMounted(() => go(null));
const last = (path: string) => path.slice(path.lastIndexOf('/') + 1) || path;

async function bring(): Promise<void> {
  const path = listing.value?.path;
  if (!path) return;
  busy.value = true;
  try {
    const { files } = await api.folder(path, true);
    emit(
      'bring',
      files.map((f) => ({ ...f, from: { folder: path } })),
    );
  } catch (error) {
    notifyError(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog
    :model-value="true"
    title="A folder on the server’s machine"
    width="min(560px, 92vw)"
    @close="emit('close')"
  >
    <nav aria-label="Way to this folder">
      <button v-for="p in way" :key="p ?? ''" class="plain-button" type="button" @click="go(p)">
        {{ p === null ? 'Folders' : last(p) }}
      </button>
    </nav>
    <ul class="scroll">
      <li v-for="f in listing?.folders" :key="f">
        <button class="plain-button" type="button" :title="f" @click="go(f)">
          <Folder :size="15" /> <span class="cut">{{ listing?.path ? last(f) : f }}</span>
        </button>
      </li>
      <li v-if="listing?.folders.length === 0" class="quiet">There are no folders in it.</li>
    </ul>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="!listing?.path" :loading="busy" @click="bring"
        >Bring in this folder</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
nav button:not(:last-child)::after {
  content: ' ›';
  color: var(--ink-quiet);
}
nav button {
  margin-right: 6px;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 4px 0;
  height: 40vh;
  border-top: 1px solid var(--paper-line);
}
li button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  padding: 4px 6px;
  text-align: left;
}
li button:hover {
  background: var(--paper-shade);
}
.quiet {
  color: var(--ink-quiet);
}
</style>
