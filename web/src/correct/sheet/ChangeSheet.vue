<script setup lang="ts">
import { computed, onMounted } from 'vue';
import { useTurns } from '../use-turns.ts';
import BrushSection from './BrushSection.vue';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';
import CommentSection from './CommentSection.vue';
import EdgeMixing from './EdgeMixing.vue';
import FrameLimit from '../frames/FrameLimit.vue';
import MaskLine from './MaskLine.vue';
import { usePartsOpen } from './parts-open.ts';
import StepSection from './StepSection.vue';
import WhoSection from './WhoSection.vue';

/** The open change: the client's words, who, the mask in a line, the corrections, what was said. */
const changes = useChanges();
const view = useView();
const parts = usePartsOpen();
const owner = computed(() => changes.owner);
const { turn, begin } = useTurns(1);
onMounted(begin);

const edges = computed(
  () => parts.isOpen('edge') && ((owner.value?.edge.length ?? 0) > 0 || changes.open?.plainEdges === true),
);
const brush = computed(
  () => view.tool === 'brush' || (parts.isOpen('brush') && (owner.value?.brush.length ?? 0) > 0),
);
</script>

<template>
  <section class="sheet scroll" aria-label="The open change">
    <template v-if="owner">
      <h2
        :title="
          changes.openHeading
            ? 'A mask here limits every change under this heading.'
            : 'The client’s words: they are written in the list.'
        "
      >
        {{ owner.words || (changes.open ? 'New change' : 'New heading') }}
      </h2>
      <FrameLimit v-if="changes.open && changes.frame !== undefined" :change="changes.open" />
      <WhoSection :owner="owner" />
      <template v-if="turn >= 1">
        <MaskLine :owner="owner" />
        <StepSection v-if="edges" :key="`edge ${owner.id}`" :change="owner" list="edge">
          <EdgeMixing v-if="changes.open" :change="changes.open" />
        </StepSection>
        <StepSection
          v-if="owner.fence.length && parts.isOpen('fence')"
          :key="`fence ${owner.id}`"
          :change="owner"
          list="fence"
        />
        <BrushSection v-if="brush" :owner="owner" />
        <StepSection
          v-if="changes.open"
          :key="`corrections ${owner.id}`"
          :change="changes.open"
          list="corrections"
        />
        <CommentSection v-if="changes.open" :key="`comments ${owner.id}`" :change="changes.open" />
      </template>
    </template>
    <p v-else class="empty">Choose a change on the left, or click a thing in the picture to begin one.</p>
  </section>
</template>

<style scoped>
.sheet {
  height: 100%;
  background: var(--paper);
  padding: 9px 12px;
}
h2 {
  display: -webkit-box;
  margin: 0 0 4px;
  overflow: hidden;
  overflow-wrap: anywhere;
  font-size: 16px;
  font-weight: 600;
  line-height: 1.25;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
.empty {
  color: var(--ink-quiet);
}
</style>
