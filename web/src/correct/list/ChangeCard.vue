<script setup lang="ts">
import { ElCheckbox, ElSwitch } from 'element-plus';
import { GripVertical, Trash2 } from '@lucide/vue';
import { useResizeObserver } from '@vueuse/core';
import { computed, nextTick, ref, watch } from 'vue';
import { correctionOf, type Change } from '@zesty-crow/core';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import { usePicture } from '../../picture/picture.ts';
import ChangeMenu from './ChangeMenu.vue';
import { useChanges } from '../../shot/changes/changes.ts';
import { describePicks } from '../../shot/changes/describe-picks.ts';

const props = defineProps<{ change: Change; open: boolean }>();
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
      @focus="emit('open')"
      @input="
        changes.list.changes.find((c) => c.id === change.id)!.words = (
          $event.target as HTMLTextAreaElement
        ).value
      "
      @change="changes.commit('Edit words')"
      @keydown.enter.exact.prevent="($event.target as HTMLElement).blur()"
    />
    <div v-if="swatch?.pictures" class="parts" title="Its part before and after">
      <ShownCanvas :shown="swatch.pictures.before" role="img" aria-label="Before" />
      <ShownCanvas :shown="swatch.pictures.after" role="img" aria-label="After" />
    </div>
    <div class="who">
      <span v-if="swatch" class="swatches" title="Mean colour before and after">
        <i :style="{ background: swatch.before }" /><i :style="{ background: swatch.after }" />
      </span>
      <span class="members cut" :title="members">{{ members || 'Nothing picked yet' }}</span>
    </div>
    <p v-for="f in failed" :key="f.kind" class="lost" role="alert">
      {{ correctionOf(f.kind)?.label ?? f.kind }} could not be computed: {{ f.message }}
    </p>
    <p v-if="lost" class="lost">{{ lost === 1 ? '1 pick is' : `${lost} picks are` }} not in this version</p>
    <footer>
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
        label="done"
        @update:model-value="(done) => changes.setDone(change, done === true)"
      />
      <span class="space" />
      <ChangeMenu :change="change" />
      <button
        class="plain-button bin"
        type="button"
        :aria-label="`Delete ${change.words || 'change'}`"
        @click.stop="changes.removeChange(change.id)"
      >
        <Trash2 :size="14" :stroke-width="1.6" />
      </button>
    </footer>
  </li>
</template>

<style scoped>
.parts {
  display: flex;
  gap: 3px;
  margin: 5px 0 3px;
}
.parts canvas {
  max-width: 72px;
  max-height: 44px;
}
.card {
  position: relative;
  background: var(--paper);
  padding: 9px 12px 6px 22px;
  box-shadow: 0 1px 5px rgb(0 0 0 / 28%);
  border-left: 4px solid transparent;
}
.card.open {
  border-left-color: var(--lemon);
  background: #fffdf6;
}
.card.off textarea,
.card.off .members {
  color: #98948a;
}
.card.done textarea {
  text-decoration: line-through;
  text-decoration-color: #98948a;
}
.grip {
  position: absolute;
  left: 3px;
  top: 11px;
  color: #a5a196;
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
  font-size: 15px;
  font-weight: 550;
  color: var(--ink);
}
textarea:focus {
  outline: none;
  box-shadow: 0 1px 0 var(--ink-quiet);
}
.who {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-top: 5px;
}
.swatches {
  display: flex;
  flex: none;
}
.swatches i {
  width: 17px;
  height: 17px;
}
.members {
  color: var(--ink-quiet);
  font-size: 13px;
  min-width: 0;
}
.lost {
  margin: 4px 0 0;
  font-size: 12px;
  color: var(--alarm);
}
footer {
  display: flex;
  align-items: center;
  gap: 6px;
  margin-top: 3px;
}
.space {
  flex: 1;
}
.bin {
  display: grid;
}
.space + :deep(*) {
  flex: none;
}
.card.under {
  margin-left: 14px;
}
.bin {
  color: #8b887d;
}
.bin:hover {
  color: var(--alarm);
}
</style>
