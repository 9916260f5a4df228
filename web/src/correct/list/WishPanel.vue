<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { computed } from 'vue';
import type { MemberPick } from '@zesty-crow/core/picks';
import { useChanges } from '../../shot/changes/changes.ts';
import FoldPanel from '../../shot/FoldPanel.vue';

/** Wishes of the plan by which this version was rendered: each can become a change. Where there is none yet, they are in sight. */
interface Wish {
  id: string;
  words: string;
  picks: MemberPick[];
}
const props = defineProps<{ wishes: readonly Wish[] }>();
const changes = useChanges();
/** A wish that has become a change is not offered again. */
const open = computed(() =>
  props.wishes.filter((w) => !changes.list.changes.some((c) => c.words === w.words)),
);
function begin(wish: Wish): void {
  changes.addChange(
    wish.words,
    wish.picks.map((p) => ({ ...p })),
  );
}
</script>

<template>
  <FoldPanel
    v-if="open.length"
    title="Wishes"
    memory="wishes"
    :summary="String(open.length)"
    :opened="changes.list.changes.length === 0"
  >
    <ul class="scroll">
      <li v-for="w in open" :key="w.id">
        <button
          class="plain-button wish"
          type="button"
          :disabled="w.picks.length === 0"
          :title="
            w.picks.length
              ? `Begin a change with ${w.picks.map((p) => p.member).join(', ')}`
              : 'No pass of this version isolates it'
          "
          @click="begin(w)"
        >
          <Plus :size="14" :stroke-width="1.6" /><span>{{ w.words }}</span>
        </button>
      </li>
    </ul>
  </FoldPanel>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0 10px 8px;
  max-height: 24vh;
  list-style: none;
}
.wish {
  display: flex;
  gap: 7px;
  align-items: baseline;
  width: 100%;
  min-height: 24px;
  padding: 3px 0;
  text-align: left;
  color: var(--on-room);
}
.wish svg {
  flex: none;
  align-self: center;
}
.wish:hover:not(:disabled) span {
  text-decoration: underline;
}
</style>
