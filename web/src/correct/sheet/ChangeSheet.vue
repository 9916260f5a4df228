<script setup lang="ts">
import { computed, onMounted } from 'vue';
import { useTurns } from '../use-turns.ts';
import BrushSection from './BrushSection.vue';
import { useChanges } from '../../shot/changes/changes.ts';
import CommentSection from './CommentSection.vue';
import EdgeMixing from './EdgeMixing.vue';
import FrameLimit from '../frames/FrameLimit.vue';
import StepSection from './StepSection.vue';
import WhoSection from './WhoSection.vue';

const changes = useChanges();
const owner = computed(() => changes.owner);
const { turn, begin } = useTurns(1);
onMounted(begin);
</script>

<template>
  <section class="sheet scroll" aria-label="The open change">
    <template v-if="owner">
      <h2>{{ owner.words || (changes.open ? 'New change' : 'New heading') }}</h2>
      <p v-if="changes.openHeading" class="paper-hint">A mask here limits every change under this heading.</p>
      <FrameLimit v-if="changes.open && changes.frame !== undefined" :change="changes.open" />
      <WhoSection :owner="owner" />
      <template v-if="turn >= 1">
        <StepSection :key="`edge ${owner.id}`" :change="owner" list="edge">
          <EdgeMixing v-if="changes.open" :change="changes.open" />
        </StepSection>
        <StepSection :key="`fence ${owner.id}`" :change="owner" list="fence" />
        <BrushSection :owner="owner" />
        <StepSection
          v-if="changes.open"
          :key="`corrections ${owner.id}`"
          :change="changes.open"
          list="corrections"
        />
        <CommentSection v-if="changes.open" :change="changes.open" />
      </template>
    </template>
    <p v-else class="empty">Choose a change on the left, or click a thing in the picture to begin one.</p>
  </section>
</template>

<style scoped>
.sheet {
  height: 100%;
  background: var(--paper);
  padding: 14px 16px;
}
h2 {
  margin: 0 0 12px;
  overflow-wrap: anywhere;
  font-size: 17px;
  font-weight: 600;
}
.sheet > section + section {
  margin-top: 18px;
}
.empty {
  color: var(--ink-quiet);
}
</style>
