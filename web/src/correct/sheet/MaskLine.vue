<script setup lang="ts">
import { computed } from 'vue';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import { usePicture } from '../../picture/picture.ts';
import { stepsIn, type Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import { STEP_LISTS } from '../../shot/changes/step-kinds.ts';
import { useView } from '../../shot/view.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import AddStep from './AddStep.vue';
import EdgeMixing from './EdgeMixing.vue';
import { usePartsOpen } from './parts-open.ts';

/**
 * The mask in one line: a small picture of it, and what shapes it. What is in use says how often and unfolds below; what
 * is not takes no room.
 */
const props = defineProps<{ owner: Owner }>();
const changes = useChanges();
const picture = usePicture();
const view = useView();
const parts = usePartsOpen();
const { tip } = useKeyChoices();

/** The edge step that turns the whole mask round, if it is the last one. */
const INVERT = 'turn-round';
const inverted = computed(() => {
  const last = props.owner.edge.at(-1);
  return last?.kind === INVERT && last.on ? last : undefined;
});
function invert(): void {
  const last = inverted.value;
  if (last) changes.removeStep(props.owner, 'edge', last.id);
  else changes.addStep(props.owner, 'edge', { kind: INVERT, values: {} });
}
const small = computed(() => picture.swatches[props.owner.id]?.pictures?.mask);
const seen = computed(() => view.mode === 'mask');
const drawing = computed(() => view.tool === 'brush');
function flipBrush(): void {
  if (drawing.value) view.tool = 'pick';
  else {
    view.tool = 'brush';
    parts.set('brush', true);
  }
}
const counted = (label: string, n: number) => (n ? `${label} ${n}` : label);
const LISTS = ['edge', 'fence'] as const;
</script>

<template>
  <section class="mask-line" aria-label="Mask">
    <button
      class="plain-button small"
      type="button"
      :aria-pressed="seen"
      aria-label="See the mask"
      :title="seen ? tip('Back to the picture', '1') : tip('See the mask', '3')"
      @click="view.mode = seen ? 'picture' : 'mask'"
    >
      <ShownCanvas v-if="small" :shown="small" role="img" aria-label="The mask" />
      <span v-else>Mask</span>
    </button>
    <template v-for="list in LISTS" :key="list">
      <button
        v-if="stepsIn(owner, list).length"
        class="plain-button part used"
        type="button"
        :aria-expanded="parts.isOpen(list)"
        :title="`${STEP_LISTS[list].title}: unfold or fold what is set`"
        @click="parts.flip(list)"
      >
        {{ counted(STEP_LISTS[list].title, stepsIn(owner, list).length) }}
      </button>
      <AddStep
        v-else
        :list="STEP_LISTS[list]"
        :change="owner"
        @add="
          parts.set(list, true);
          changes.addStep(owner, list, $event);
        "
      >
        <template #reference>
          <button
            class="plain-button part"
            type="button"
            :aria-label="STEP_LISTS[list].add"
            :title="`${STEP_LISTS[list].add}. ${STEP_LISTS[list].empty}`"
          >
            {{ STEP_LISTS[list].title }}
          </button>
        </template>
        <EdgeMixing v-if="list === 'edge' && changes.open" :change="changes.open" />
      </AddStep>
    </template>
    <button
      class="plain-button part"
      type="button"
      :class="{ used: owner.brush.length, on: drawing }"
      :aria-pressed="drawing"
      :title="drawing ? tip('Stop drawing', 'C') : tip('Draw on the mask, for the last few pixels', 'K')"
      @click="flipBrush"
    >
      {{ counted('Brush', owner.brush.length) }}
    </button>
    <button
      class="plain-button part"
      type="button"
      :class="{ on: inverted }"
      :aria-pressed="inverted !== undefined"
      title="Take everything but this"
      @click="invert"
    >
      Invert
    </button>
  </section>
</template>

<style scoped>
.mask-line {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 3px;
  min-height: 36px;
  margin: 4px 0;
}
.small {
  display: grid;
  flex: none;
  place-items: center;
  width: 52px;
  height: 30px;
  margin-right: 3px;
  background: #1b1b1b;
  color: var(--on-over);
  font-size: 13px;
}
.small[aria-pressed='true'] {
  box-shadow: 0 0 0 2px var(--lemon);
}
.small canvas {
  max-width: 52px;
  max-height: 30px;
}
.part {
  flex: 1 1 auto;
  min-height: 26px;
  padding: 2px;
  border: 1px solid var(--paper-line);
  font-size: 13px;
  white-space: nowrap;
}
.part:hover {
  background: var(--paper-shade);
}
.used {
  font-weight: 600;
}
.part[aria-expanded='true'] {
  background: var(--paper-shade);
}
.on {
  background: var(--ink);
  color: var(--paper);
}
.on:hover {
  background: var(--ink);
}
</style>
