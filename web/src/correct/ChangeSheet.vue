<script setup lang="ts">
import { onMounted } from 'vue';
import { useTurns } from '../shell/use-turns.ts';
import { useChanges } from './changes.ts';
import EdgeMixing from './EdgeMixing.vue';
import StepSection from './StepSection.vue';
import WhoSection from './WhoSection.vue';

const changes = useChanges();
const { turn, begin } = useTurns(1);
onMounted(begin);
</script>

<template>
  <section class="sheet scroll" aria-label="The open change">
    <template v-if="changes.open">
      <h2>{{ changes.open.words || 'New change' }}</h2>
      <WhoSection :change="changes.open" />
      <template v-if="turn >= 1">
        <StepSection :key="`edge ${changes.open.id}`" :change="changes.open" list="edge">
          <EdgeMixing :change="changes.open" />
        </StepSection>
        <StepSection :key="`fence ${changes.open.id}`" :change="changes.open" list="fence" />
        <StepSection :key="`corrections ${changes.open.id}`" :change="changes.open" list="corrections" />
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
