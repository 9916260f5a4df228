<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus';
import { ChevronDown, ChevronRight, Trash2 } from '@lucide/vue';
import { ref } from 'vue';
import type { Change } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';
import { usePartsOpen } from './parts-open.ts';

/** What was said about a change, the oldest first. */
const props = defineProps<{ change: Change }>();
const changes = useChanges();
const parts = usePartsOpen();
const text = ref('');
function add(): void {
  const own = text.value.trim();
  if (own === '') return;
  text.value = '';
  changes.addComment(props.change, own);
}
const when = (at: string) =>
  new Date(at).toLocaleString('en', { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });
</script>

<template>
  <section aria-label="Comments">
    <button
      class="plain-button head"
      type="button"
      :aria-expanded="parts.isOpen('comments')"
      @click="parts.flip('comments')"
    >
      <component :is="parts.isOpen('comments') ? ChevronDown : ChevronRight" :size="14" />
      Comments{{ change.comments?.length ? ` (${change.comments.length})` : '' }}
    </button>
    <template v-if="parts.isOpen('comments')">
      <ul v-if="change.comments?.length">
        <li v-for="c in change.comments" :key="c.id">
          <p>{{ c.text }}</p>
          <small>{{ when(c.at) }}</small>
          <button
            class="plain-button"
            type="button"
            aria-label="Delete the comment"
            @click="changes.removeComment(change, c.id)"
          >
            <Trash2 :size="13" :stroke-width="1.6" />
          </button>
        </li>
      </ul>
      <form @submit.prevent="add">
        <ElInput
          v-model="text"
          size="small"
          maxlength="2000"
          placeholder="Write a comment"
          aria-label="Comment"
        />
        <ElButton size="small" native-type="submit" :disabled="text.trim() === ''">Add</ElButton>
      </form>
    </template>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 5px;
  min-height: 26px;
  font-weight: 600;
}
ul {
  margin: 0 0 6px;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 6px;
  align-items: baseline;
  padding: 3px 0;
  border-top: 1px solid var(--paper-line);
}
p {
  margin: 0;
  overflow-wrap: anywhere;
}
small {
  color: var(--ink-quiet);
}
form {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
}
</style>
