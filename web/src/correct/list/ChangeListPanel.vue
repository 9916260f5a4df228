<script setup lang="ts">
import { ElButton } from 'element-plus';
import { Heading, Import, Plus } from '@lucide/vue';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref } from 'vue';
import ChangeCard from './ChangeCard.vue';
import HeadingCard from './HeadingCard.vue';
import { useSortable } from '../use-sortable.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';

/** The changes, one under the other, with what they stand under. */
defineProps<{
  /** Why no change can be called done on the open version. */
  unfinished?: string | undefined;
}>();
defineEmits<{ relink: []; take: [] }>();
const changes = useChanges();
const picture = usePicture();
/** Picks of all changes that mean nothing here. */
const lost = computed(() => changes.list.changes.reduce((sum, c) => sum + (picture.missing[c.id] ?? 0), 0));
/** Headings that are folded: their changes are not in sight. */
const folded = useLocalStorage<string[]>('zesty-crow/folded-headings', []);
const flip = (id: string) =>
  (folded.value = folded.value.includes(id) ? folded.value.filter((f) => f !== id) : [...folded.value, id]);
const inSight = (change: { id: string; heading?: string }) =>
  change.heading === undefined || change.id === changes.openId || !folded.value.includes(change.heading);
const listElement = ref<HTMLElement>();
useSortable(listElement, (from, to) => changes.moveRow(from, to));
</script>

<template>
  <section class="card-panel" aria-label="Changes">
    <header>
      <h2 class="only-read">Changes</h2>
      <ElButton size="small" :icon="Plus" @click="changes.addChange()">New change</ElButton>
      <span class="acts">
        <button
          class="plain-button"
          type="button"
          title="New heading"
          aria-label="New heading"
          @click="changes.addHeading()"
        >
          <Heading :size="16" :stroke-width="1.6" />
        </button>
        <button
          class="plain-button"
          type="button"
          title="Take the changes of another shot…"
          aria-label="Take the changes of another shot"
          @click="$emit('take')"
        >
          <Import :size="16" :stroke-width="1.6" />
        </button>
      </span>
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
            :folded="folded.includes(row.heading.id)"
            @flip="flip(row.heading.id)"
            @open="changes.openId = row.heading.id"
          />
          <ChangeCard
            v-else
            v-show="inSight(row.change)"
            :change="row.change"
            :open="row.change.id === changes.openId"
            :unfinished="unfinished"
            @open="changes.openId = row.change.id"
          />
        </template>
      </ol>
    </div>
  </section>
</template>

<style scoped>
header {
  padding: 6px 12px;
}
.lost {
  margin: 0 0 10px;
  padding: 6px 10px;
  background: var(--paper);
  color: var(--ink);
}
.lost button {
  text-decoration: underline;
}
.acts {
  display: flex;
  align-items: center;
  gap: 2px;
}
.acts .plain-button {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  color: var(--on-room);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}
</style>
