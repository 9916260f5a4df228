<script setup lang="ts">
import { X } from '@lucide/vue';
import type { StoredFile } from '@zesty-crow/server/contract';
import { computed } from 'vue';
import FoldPanel from '../shot/FoldPanel.vue';

/** The files of the version. More are added, and one of the same name is replaced, by dropping them on the stage. */
const props = defineProps<{ files: readonly StoredFile[]; opened?: boolean }>();
const emit = defineEmits<{ add: []; remove: [file: StoredFile] }>();
/** Files that are listed: a sequence has hundreds. */
const MOST = 200;
const own = computed(() => props.files.filter((f) => f.role === 'picture' || f.role === 'sidecar'));
const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
const total = computed(() => size(own.value.reduce((sum, f) => sum + f.size, 0)));
</script>

<template>
  <FoldPanel
    v-if="own.length"
    class="files"
    title="Files"
    :summary="`${own.length}, ${total}`"
    :opened="opened"
  >
    <ul class="scroll">
      <li v-for="f in own.slice(0, MOST)" :key="f.id">
        <span class="cut" :title="f.name">{{ f.name }}</span>
        <span class="quiet">{{ size(f.size) }}</span>
        <button
          class="plain-button"
          type="button"
          :aria-label="`Take out ${f.name}`"
          title="Take it out of this version"
          @click="emit('remove', f)"
        >
          <X :size="14" />
        </button>
      </li>
      <li v-if="own.length > MOST" class="quiet">and {{ own.length - MOST }} more</li>
    </ul>
    <p>
      <button class="plain-button add" type="button" @click="emit('add')">Add files…</button>
      <span class="quiet">or drop them here; one of the same name is replaced.</span>
    </p>
  </FoldPanel>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0 10px;
  max-height: 24vh;
  font-size: 13px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto 16px;
  align-items: center;
  gap: 8px;
  height: 24px;
}
p {
  margin: 0;
  padding: 6px 10px 8px;
  font-size: 13px;
}
.add {
  text-decoration: underline;
  margin-right: 6px;
}
.quiet {
  color: var(--on-room-quiet);
}
</style>
