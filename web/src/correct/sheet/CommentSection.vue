<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { ref } from 'vue';
import type { Change } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';

/** What was said about a change, the oldest first. */
const props = defineProps<{ change: Change }>();
const changes = useChanges();
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
    <h3>Comments</h3>
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
  </section>
</template>

<style scoped>
h3 {
  margin: 0 0 4px;
  font-size: 15px;
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
