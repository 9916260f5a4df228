<script setup lang="ts">
import { ElCheckbox, ElSwitch } from 'element-plus';
import { CircleAlert, GripVertical, Trash2 } from '@lucide/vue';
import { useResizeObserver } from '@vueuse/core';
import { computed, nextTick, ref, watch } from 'vue';
import { correctionOf, type Change } from '@zesty-crow/core';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import { usePicture } from '../../picture/picture.ts';
import ChangeMenu from './ChangeMenu.vue';
import { useChanges } from '../../shot/changes/changes.ts';
import { describePicks } from '@zesty-crow/core/picks';

const props = defineProps<{
  change: Change;
  open: boolean;
  /** Why it cannot be called done on this version. */
  unfinished?: string | undefined;
}>();
const emit = defineEmits<{ open: [] }>();

const changes = useChanges();
const picture = usePicture();
const words = ref<HTMLTextAreaElement>();
/** Under a heading that is off it is off, too. */
const applied = computed(
  () => props.change.on && changes.list.headings.find((h) => h.id === props.change.heading)?.on !== false,
);

const swatch = computed(() => picture.swatches[props.change.id]);
const lost = computed(() => picture.missing[props.change.id] ?? 0);
/** Corrections of it that could not be computed; the rest of the list is shown. */
const failed = computed(() => picture.failures.filter((f) => f.changeId === props.change.id));
const lostWords = computed(
  () => (lost.value === 1 ? '1 pick is' : `${lost.value} picks are`) + ' not in this version',
);
const members = computed(() => describePicks(props.change.who));

function grow(): void {
  const area = words.value;
  if (!area) return;
  area.style.height = '0';
  area.style.height = `${area.scrollHeight}px`;
}
watch(
  () => props.change.words,
  () => void nextTick(grow),
  { immediate: true },
);

// As many lines as there are at this width; a column that is still opening is no width to go by.
let measured = 0;
useResizeObserver(words, ([entry]) => {
  const width = entry?.contentRect.width ?? 0;
  if (width === measured) return;
  measured = width;
  grow();
});

// A card made just now is waiting for the client's words.
watch(
  words,
  (area) => {
    if (area && props.open && props.change.words === '' && props.change.who.length === 0)
      area.focus({ preventScroll: true });
    grow();
  },
  { flush: 'post' },
);
</script>

<template>
  <li
    class="card"
    :class="{ open, off: !applied, done: change.done, under: change.heading !== undefined }"
    :data-change="change.id"
    @pointerdown="emit('open')"
  >
    <span class="grip" aria-hidden="true"><GripVertical :size="14" :stroke-width="1.5" /></span>
    <textarea
      ref="words"
      :value="change.words"
      rows="1"
      maxlength="500"
      placeholder="What did the client ask for?"
      aria-label="The client's words"
      :title="open ? undefined : change.words"
      @focus="emit('open')"
      @input="changes.setWords(change, ($event.target as HTMLTextAreaElement).value)"
      @change="changes.commit()"
      @keydown.enter.exact.prevent="($event.target as HTMLElement).blur()"
    />
    <template v-if="open">
      <div v-if="swatch?.pictures" class="parts" title="Its part before and after">
        <ShownCanvas :shown="swatch.pictures.before" role="img" aria-label="Before" />
        <ShownCanvas :shown="swatch.pictures.after" role="img" aria-label="After" />
      </div>
      <p v-for="f in failed" :key="f.kind" class="lost" role="alert">
        {{ correctionOf(f.kind)?.label ?? f.kind }} could not be computed: {{ f.message }}
      </p>
      <p v-if="lost" class="lost">{{ lostWords }}</p>
    </template>
    <footer>
      <span v-if="swatch" class="swatches" title="Mean colour before and after">
        <i :style="{ background: swatch.before }" /><i :style="{ background: swatch.after }" />
      </span>
      <CircleAlert
        v-if="!open && (failed.length > 0 || lost > 0)"
        class="alarm"
        :size="14"
        :aria-label="lost ? lostWords : 'A correction could not be computed'"
      />
      <span class="members cut" :title="members">{{ members || 'Nothing picked yet' }}</span>
      <ElSwitch
        class="paper-switch"
        :model-value="change.on"
        size="small"
        :aria-label="`Apply ${change.words || 'change'}`"
        @update:model-value="(on) => changes.setOn(change, on === true)"
      />
      <ElCheckbox
        :model-value="change.done"
        size="small"
        :aria-label="`${change.words || 'change'} is done`"
        :title="change.done ? 'Done' : (unfinished ?? 'Done')"
        :disabled="!change.done && unfinished !== undefined"
        @update:model-value="(done) => changes.setDone(change, done === true)"
      />
    </footer>
    <footer v-if="open" class="acts">
      <span class="space" />
      <ChangeMenu :change="change" />
      <button
        class="plain-button bin"
        type="button"
        :aria-label="`Delete ${change.words || 'change'}`"
        title="Delete"
        @click.stop="changes.removeChange(change.id)"
      >
        <Trash2 :size="14" :stroke-width="1.6" />
      </button>
    </footer>
  </li>
</template>

<style scoped>
.card {
  position: relative;
  padding: 5px 8px 4px 20px;
  background: var(--paper);
  border-left: 4px solid transparent;
  box-shadow: 0 1px 4px rgb(0 0 0 / 24%);
}
.card:not(.open) {
  height: 54px;
  overflow: hidden;
}
.card.open {
  border-left-color: var(--lemon);
  background: var(--paper-bright);
}
.card.off textarea,
.card.off .members {
  color: var(--ink-quiet);
}
.card.done textarea {
  text-decoration: line-through;
  text-decoration-color: var(--ink-quiet);
}
.card.under {
  margin-left: 14px;
}
.grip {
  position: absolute;
  left: 2px;
  top: 7px;
  color: var(--ink-quiet);
  cursor: grab;
}
textarea {
  display: block;
  width: 100%;
  border: 0;
  padding: 0;
  resize: none;
  overflow: hidden;
  background: transparent;
  font: inherit;
  font-size: 14px;
  font-weight: 600;
  line-height: 20px;
  color: var(--ink);
}
.card:not(.open) textarea {
  height: 20px !important;
  white-space: nowrap;
  mask-image: linear-gradient(to left, transparent, #000 18px);
}
textarea:focus {
  outline: none;
  box-shadow: 0 1px 0 var(--ink-quiet);
}
.parts {
  display: flex;
  gap: 3px;
  margin: 4px 0 2px;
}
.parts canvas {
  max-width: 72px;
  max-height: 44px;
}
.lost {
  margin: 3px 0 0;
  font-size: 12px;
  color: var(--alarm);
}
footer {
  display: flex;
  align-items: center;
  gap: 6px;
  height: 25px;
}
.swatches {
  display: flex;
  flex: none;
}
.swatches i {
  width: 12px;
  height: 16px;
}
.alarm {
  flex: none;
  color: var(--alarm);
}
.members {
  flex: 1;
  min-width: 0;
  color: var(--ink-quiet);
  font-size: 13px;
}
footer :deep(.el-checkbox) {
  height: 24px;
  min-width: 20px;
  justify-content: center;
  margin: 0;
}
footer :deep(.el-switch__core) {
  min-width: 26px;
}
.space {
  flex: 1;
}
.acts > :deep(*) {
  flex: none;
}
.acts .space {
  flex: 1;
}
.bin {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  color: var(--ink-quiet);
}
.bin:hover {
  color: var(--alarm);
}
</style>
