<script setup lang="ts">
import { ElSwitch } from 'element-plus';
import { ChevronDown, ChevronRight, GripVertical, Trash2 } from '@lucide/vue';
import { computed, onMounted, ref } from 'vue';
import { hasMask, type Heading } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';
import { describePicks } from '@zesty-crow/core/picks';

/** What changes stand under: switched as one, with a mask over them all if it has one. */
const props = defineProps<{ heading: Heading; open: boolean; folded: boolean }>();
const emit = defineEmits<{ open: []; flip: [] }>();
const changes = useChanges();
const words = ref<HTMLInputElement>();

const limits = computed(() => {
  const { who, fence, brush } = props.heading;
  if (!hasMask(props.heading)) return '';
  const shapes = fence.filter((f) => f.on).length;
  return [
    describePicks(who),
    shapes === 0 ? '' : shapes === 1 ? '1 shape' : `${shapes} shapes`,
    brush.length ? 'brush' : '',
  ]
    .filter(Boolean)
    .join('; ');
});
onMounted(() => {
  if (props.open && props.heading.words === '') words.value?.focus({ preventScroll: true });
});
</script>

<template>
  <li
    class="heading"
    :class="{ open, off: !heading.on }"
    :data-heading="heading.id"
    @pointerdown="emit('open')"
  >
    <span class="grip" aria-hidden="true"><GripVertical :size="14" :stroke-width="1.5" /></span>
    <button
      class="plain-button fold"
      type="button"
      :aria-expanded="!folded"
      :aria-label="`${folded ? 'Unfold' : 'Fold'} ${heading.words || 'heading'}`"
      @click.stop="emit('flip')"
    >
      <component :is="folded ? ChevronRight : ChevronDown" :size="14" />
    </button>
    <input
      ref="words"
      :value="heading.words"
      maxlength="500"
      placeholder="Heading"
      aria-label="Heading"
      @focus="emit('open')"
      @input="changes.setWords(heading, ($event.target as HTMLInputElement).value)"
      @change="changes.commit()"
      @keydown.enter.prevent="($event.target as HTMLElement).blur()"
    />
    <ElSwitch
      :model-value="heading.on"
      size="small"
      :aria-label="`Apply all under ${heading.words || 'heading'}`"
      @update:model-value="(on) => changes.setOn(heading, on === true)"
    />
    <button
      class="plain-button bin"
      type="button"
      title="Delete the heading; its changes stay"
      :aria-label="`Delete heading ${heading.words || ''}`"
      @click.stop="changes.removeHeading(heading.id)"
    >
      <Trash2 :size="14" :stroke-width="1.6" />
    </button>
    <p v-if="limits" class="cut" :title="limits">only in {{ limits }}</p>
  </li>
</template>

<style scoped>
.heading {
  display: grid;
  grid-template-columns: 14px 24px minmax(0, 1fr) auto 24px;
  align-items: center;
  gap: 0 4px;
  padding: 1px 8px 1px 2px;
  border-left: 4px solid transparent;
  color: var(--on-room);
}
.heading.open {
  border-left-color: var(--lemon);
  background: rgb(255 255 255 / 8%);
}
.heading.off input {
  color: var(--on-room-quiet);
}
.fold,
.bin {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  color: var(--on-room);
}
.grip {
  cursor: grab;
  color: var(--on-room-quiet);
}
input {
  border: 0;
  padding: 2px 0;
  background: transparent;
  font: inherit;
  font-weight: 600;
  color: var(--on-room);
  min-width: 0;
}
input:focus {
  outline: none;
  box-shadow: 0 1px 0 var(--on-room-quiet);
}
input::placeholder {
  color: var(--on-room-quiet);
}
.bin {
  color: var(--on-room-quiet);
}
.bin:hover {
  color: var(--on-room);
}
p {
  grid-column: 3 / -1;
  margin: 0;
  font-size: 13px;
  color: var(--on-room-quiet);
}
</style>
