<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus';
import { useElementSize } from '@vueuse/core';
import { computed, onUnmounted, reactive, ref, useTemplateRef, watch } from 'vue';
import { differencesOf, listedChanges, type ListedChange, type Variant } from '@zesty-crow/core/changes';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import type { PassPicture } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { describeValue } from '@zesty-crow/core/fields';
import { useView } from '../../shot/view.ts';

/** All variants as pictures, the list itself first; two of them can be looked at against each other. */
const props = defineProps<{ frame: number | undefined }>();
const emit = defineEmits<{ close: [] }>();
const changes = useChanges();
const picture = usePicture();
const view = useView();
const root = useTemplateRef<HTMLElement>('root');
const { width } = useElementSize(root);

const LEAST = 300;
const columns = computed(() => Math.max(1, Math.min(4, Math.floor(width.value / LEAST))));
const cells = computed((): (Variant | undefined)[] => [undefined, ...changes.list.variants]);
const keyOf = (variant: Variant | undefined) => variant?.id ?? '';
const aspect = computed(() => {
  const { size } = picture;
  return size ? `${size.width} / ${size.height}` : '16 / 9';
});

/** What each variant was asked with, and what came of it. */
const shown = reactive(new Map<string, { asked: string; picture: PassPicture | undefined }>());
let over = false;
onUnmounted(() => (over = true));
let working = false;
let again = false;
const listOf = (variant: Variant | undefined) =>
  JSON.stringify(listedChanges(changes.list, { variant: variant?.id, frame: props.frame }));

/** One after the other, from the top: the stack in which they are computed only computes what differs. */
async function fill(): Promise<void> {
  again = working;
  if (working || !(width.value > 0)) return;
  working = true;
  const side = Math.round((width.value / columns.value) * Math.min(2, devicePixelRatio));
  for (const variant of cells.value) {
    const list = listOf(variant);
    const asked = `${picture.versionId} ${props.frame} ${side} ${JSON.stringify(view.display)} ${list}`;
    const there = shown.get(keyOf(variant));
    if (there?.asked === asked) continue;
    // Another picture may be opened meanwhile: then it is asked for again.
    const made = await picture.stateOf(JSON.parse(list) as ListedChange[], side).catch(() => undefined);
    if (over) return;
    if (made) shown.set(keyOf(variant), { asked, picture: made });
    if (again) break;
  }
  working = false;
  if (again) void fill();
}
watch(
  [() => changes.list, columns, width, () => view.display, () => props.frame, () => picture.settledCount],
  () => void fill(),
  { immediate: true, deep: true },
);
const busy = computed(() => cells.value.filter((c) => !shown.get(keyOf(c))?.picture).length);

const told = (variant: Variant | undefined) =>
  variant
    ? differencesOf(changes.list, variant)
        .map(
          (d) =>
            `${d.change.words || 'Change'}: ${d.field?.label ?? 'switch'} ${describeValue(d.field, d.to)}`,
        )
        .join('\n')
    : 'What all variants share';

/** Those that are ticked, in that order. */
const ticked = ref<string[]>([]);
function tick(key: string): void {
  ticked.value = ticked.value.includes(key)
    ? ticked.value.filter((k) => k !== key)
    : [...ticked.value, key].slice(-2);
}
function open(key: string): void {
  changes.variantId = key === '' ? undefined : key;
  emit('close');
}
/** The second one is worked on, the first one is what before is. */
function compare(): void {
  const [first, second] = ticked.value as [string, string];
  view.against = { kind: 'variant', key: first };
  view.beside = 'before';
  open(second);
}
</script>

<template>
  <section ref="root" class="wall" aria-label="All variants">
    <header>
      <span role="status">{{
        busy ? `computing ${busy} of ${cells.length}…` : `${cells.length - 1} variants and the list itself`
      }}</span>
      <ElButton size="small" :disabled="ticked.length !== 2" @click="compare"
        >Compare the two ticked</ElButton
      >
      <ElButton size="small" @click="emit('close')">Back to the picture</ElButton>
    </header>
    <div class="cells" :style="{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }">
      <figure
        v-for="variant in cells"
        :key="keyOf(variant)"
        :class="{ on: changes.variantId === variant?.id }"
      >
        <button
          class="plain-button"
          type="button"
          :style="{ aspectRatio: aspect }"
          :title="told(variant)"
          :aria-label="`Work on ${variant?.name ?? 'the list itself'}`"
          @click="open(keyOf(variant))"
        >
          <ShownCanvas :shown="shown.get(keyOf(variant))?.picture" aria-hidden="true" />
        </button>
        <figcaption>
          <ElCheckbox
            size="small"
            :model-value="ticked.includes(keyOf(variant))"
            :aria-label="`Compare ${variant?.name ?? 'the list itself'}`"
            @update:model-value="tick(keyOf(variant))"
          />
          <b class="cut">{{ variant?.name ?? 'The list itself' }}</b>
        </figcaption>
      </figure>
    </div>
  </section>
</template>

<style scoped>
.wall {
  position: absolute;
  inset: 0;
  z-index: 3;
  overflow-y: auto;
  background: var(--room);
  color: #fff;
}
header {
  position: sticky;
  top: 0;
  z-index: 1;
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 6px 10px;
  background: var(--room-deep);
  color: var(--on-room);
}
header span {
  flex: 1;
}
header :deep(.el-button) {
  margin: 0;
}
.cells {
  display: grid;
  gap: 8px;
  padding: 8px;
}
figure {
  margin: 0;
}
figure button {
  display: block;
  width: 100%;
  background: #555;
}
figure canvas {
  width: 100%;
  height: 100%;
}
figure.on button {
  outline: 3px solid var(--lemon);
}
figcaption {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 2px 0;
}
figcaption :deep(.el-checkbox) {
  height: 20px;
  margin: 0;
}
</style>
