<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed, ref } from 'vue';
import TrayLine from './TrayLine.vue';
import { shareOf, type Upload } from '../shot/bring-in/uploads.ts';

/** Files on their way to the server: all together, and on demand one by one. */
const props = defineProps<{ upload: Upload }>();
const open = ref(false);
const WORDS = { waiting: 'waiting', sent: 'sent', 'left out': 'left out' } as const;
const arrived = computed(() => props.upload.files.filter((f) => f.state === 'sent').length);
const counted = computed(() => {
  const { length } = props.upload.files;
  return length > 1 ? `${arrived.value} of ${length} files` : '';
});
</script>

<template>
  <div class="job">
    <TrayLine what="Sending" :text="upload.name" :share="shareOf(upload)" @cancel="upload.abort.abort()">
      <button
        v-if="counted"
        class="plain-button count"
        type="button"
        :aria-expanded="open"
        title="Show the files"
        @click="open = !open"
      >
        {{ counted }}
      </button>
    </TrayLine>
    <ul v-if="open" class="scroll">
      <li v-for="(f, i) in upload.files" :key="i">
        <span class="cut" :title="f.name">{{ f.name }}</span>
        <span class="quiet">{{
          f.state === 'sending' ? `${Math.round((100 * f.sent) / Math.max(1, f.size))} %` : WORDS[f.state]
        }}</span>
        <button
          class="plain-button"
          type="button"
          :aria-label="`Leave out ${f.name}`"
          title="Leave it out"
          :disabled="f.state === 'sent' || f.state === 'left out'"
          @click="f.state === 'waiting' ? (f.state = 'left out') : f.abort.abort()"
        >
          <X :size="13" />
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.count {
  text-decoration: underline;
  white-space: nowrap;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 30vh;
  font-size: 13px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto 18px;
  align-items: center;
  gap: 8px;
  height: 22px;
}
.quiet {
  color: var(--ink-quiet);
}
button:disabled {
  visibility: hidden;
}
</style>
