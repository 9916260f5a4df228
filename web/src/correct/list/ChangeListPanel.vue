<script setup lang="ts">
import { ElButton } from 'element-plus';
import { Import, Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { MemberPick } from '@zesty-crow/core/picks';
import ChangeCard from './ChangeCard.vue';
import HeadingCard from './HeadingCard.vue';
import { useSortable } from '../use-sortable.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';

/** Wishes of the plan by which this version was rendered. */
const props = defineProps<{ wishes: { id: string; words: string; picks: MemberPick[] }[] }>();
defineEmits<{ relink: []; take: [] }>();
const changes = useChanges();
const picture = usePicture();
/** Picks of all changes that mean nothing here. */
const lost = computed(() => changes.list.changes.reduce((sum, c) => sum + (picture.missing[c.id] ?? 0), 0));
/** A wish that has become a change is not offered again. */
const open = computed(() =>
  props.wishes.filter((w) => !changes.list.changes.some((c) => c.words === w.words)),
);
function begin(wish: { words: string; picks: MemberPick[] }): void {
  changes.addChange(
    wish.words,
    wish.picks.map((p) => ({ ...p })),
  );
}
const listElement = ref<HTMLElement>();
useSortable(listElement, (from, to) => changes.moveRow(from, to));
</script>

<template>
  <section class="card-panel" aria-label="Changes">
    <header>
      <h2>Changes</h2>
      <ElButton size="small" :icon="Plus" @click="changes.addChange()">New change</ElButton>
    </header>
    <div class="body scroll">
      <p v-if="lost > 0" class="lost">
        {{ lost === 1 ? '1 pick is' : `${lost} picks are` }} not in this version.
        <button class="plain-button" type="button" @click="$emit('relink')">Find them again…</button>
      </p>
      <p v-if="changes.list.changes.length === 0" class="empty">
        Click a thing in the picture to begin, or write down first what the client asked for.
      </p>
      <ol ref="listElement">
        <template v-for="row in changes.rows" :key="row.heading?.id ?? row.change?.id">
          <HeadingCard
            v-if="row.heading"
            :heading="row.heading"
            :open="row.heading.id === changes.openId"
            @open="changes.openId = row.heading.id"
          />
          <ChangeCard
            v-else
            :change="row.change"
            :open="row.change.id === changes.openId"
            @open="changes.openId = row.change.id"
          />
        </template>
      </ol>
      <button class="plain-button new-heading" type="button" @click="changes.addHeading()">
        <Plus :size="14" :stroke-width="1.6" />New heading
      </button>
      <button class="plain-button new-heading" type="button" @click="$emit('take')">
        <Import :size="14" :stroke-width="1.6" />Take the changes of another shot…
      </button>
      <section v-if="open.length" class="wishes" aria-label="Wishes">
        <h3>Wished for</h3>
        <button
          v-for="w in open"
          :key="w.id"
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
      </section>
    </div>
  </section>
</template>

<style scoped>
.lost {
  margin: 0 0 10px;
  padding: 6px 10px;
  background: var(--paper);
  color: var(--ink);
}
.lost button {
  text-decoration: underline;
}
.new-heading {
  display: flex;
  align-items: center;
  gap: 7px;
  margin-top: 10px;
  text-align: left;
  color: var(--on-room-quiet);
}
.new-heading svg {
  flex: none;
}
.new-heading:hover {
  color: var(--on-room);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 9px;
}
.wishes h3 {
  margin: 14px 0 4px;
  font-size: 13px;
  font-weight: 500;
  color: var(--on-room-quiet);
}
.wish {
  display: flex;
  gap: 7px;
  align-items: baseline;
  width: 100%;
  padding: 4px 0;
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
