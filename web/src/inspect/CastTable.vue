<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus';
import { useVirtualList } from '@vueuse/core';
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, List, ListTree } from '@lucide/vue';
import { matchMembers } from '@zesty-crow/core/picks';
import type { Appearances } from '@zesty-crow/server/contract';
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import type { Member } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { api } from '../server/api.ts';
import { listRows, treeRows, type CastRow } from './cast-rows.ts';
import MemberThumb from './MemberThumb.vue';
import { useShownMembers } from './shown-members.ts';

/** Everything in the frame that has an ID, layer by layer: found by name, sorted, chosen for a change. */
const props = defineProps<{ frames: readonly number[] }>();
const emit = defineEmits<{ change: [layer: string, members: Member[]] }>();
const picture = usePicture();
const shown = useShownMembers();
const layerName = ref<string>();
const pattern = ref('');
const by = ref<'name' | 'share'>('share');
const down = ref(true);
const asTree = ref(false);
const closed = ref(new Set<string>());
const chosen = ref(new Set<number>());
const hovered = shallowRef<readonly number[]>([]);

const layers = computed(() => picture.cast.filter((l) => l.state === 'there'));
const layer = computed(() => layers.value.find((l) => l.name === layerName.value) ?? layers.value[0]);
watch(
  () => layer.value?.name,
  () => (chosen.value = new Set()),
);
const pixels = computed(() => (picture.size ? picture.size.width * picture.size.height : 1));

const members = computed((): Member[] => {
  const all = layer.value?.members ?? [];
  const text = pattern.value.trim();
  const found = text === '' ? all : matchMembers(/[*?[{]/.test(text) ? text : `*${text}*`, all);
  const sign = down.value ? -1 : 1;
  return [...found].sort((a, b) =>
    by.value === 'name' ? -sign * a.name.localeCompare(b.name, 'en') : sign * (a.coverage - b.coverage),
  );
});
const rows = computed(() => (asTree.value ? treeRows(members.value, closed.value) : listRows(members.value)));
/** Lines on the page are used again while it is scrolled; more than ever are seen. */
const POOL = 128;
const { list, containerProps, wrapperProps, scrollTo } = useVirtualList(rows, {
  itemHeight: 32,
  overscan: 4,
});
watch([members, asTree], () => scrollTo(0));

/** In which frames of a sequence each member appears; asked for again while frames are still being read. */
const appearances = shallowRef<Appearances>();
watch(
  [() => picture.versionId, () => layer.value?.name, () => props.frames.length],
  async ([version, name, count], _, onCleanup) => {
    appearances.value = undefined;
    if (!version || !name || count < 2) return;
    let gone = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    onCleanup(() => {
      gone = true;
      clearTimeout(timer);
    });
    const ask = async (): Promise<void> => {
      const found = await api.appearances(version, name).catch(() => undefined);
      if (gone || !found) return;
      appearances.value = found;
      if (found.known.length < found.frames.length) timer = setTimeout(() => void ask(), 3000);
    };
    await ask();
  },
  { immediate: true },
);
function framesOf({ members: own }: CastRow): string {
  const { known, members: seen } = appearances.value!;
  const numbers = new Set(own.flatMap((m) => seen[m.id] ?? []));
  return numbers.size === known.length ? 'all' : String(numbers.size);
}
const framesTitle = ({ members: own }: CastRow) =>
  own.length === 1 ? `In frames ${(appearances.value!.members[own[0]!.id] ?? []).join(', ')}` : undefined;

function sort(key: 'name' | 'share'): void {
  if (by.value === key) down.value = !down.value;
  else [by.value, down.value] = [key, true];
}
const isChosen = ({ members: own }: CastRow) => own.every((m) => chosen.value.has(m.id));
function flip(row: CastRow): void {
  const next = new Set(chosen.value);
  const all = isChosen(row);
  for (const m of row.members)
    if (all) next.delete(m.id);
    else next.add(m.id);
  chosen.value = next;
}
function fold({ key }: CastRow): void {
  const next = new Set(closed.value);
  if (!next.delete(key)) next.add(key);
  closed.value = next;
}
function share({ members: own }: CastRow): string {
  const percent = (100 * own.reduce((sum, m) => sum + m.coverage, 0)) / pixels.value;
  return percent >= 0.1 ? `${percent.toFixed(1)} %` : '< 0.1 %';
}
/** Made once: it is slow to make, and every line has a number. */
const thousands = new Intl.NumberFormat('en');
const pixelText = ({ members: own }: CastRow) => thousands.format(own.reduce((sum, m) => sum + m.pixels, 0));
function begin(): void {
  const own = layer.value!.members.filter((m) => chosen.value.has(m.id));
  emit('change', layer.value!.name, own);
}

// What the pointer is on, or else what is chosen, is shown in the picture.
watch([chosen, hovered, () => layer.value?.name], () =>
  shown.show(layer.value?.name, hovered.value.length ? hovered.value : [...chosen.value]),
);
onUnmounted(() => shown.show(undefined, []));
</script>

<template>
  <section class="cast" aria-label="Cast">
    <header>
      <h2>Cast</h2>
      <ElSelect
        v-if="layer"
        :model-value="layer.name"
        size="small"
        aria-label="ID layer"
        @update:model-value="layerName = $event"
      >
        <ElOption
          v-for="l in layers"
          :key="l.name"
          :value="l.name"
          :label="`${l.name} (${l.members.length})`"
        />
      </ElSelect>
      <button
        v-if="layer"
        class="plain-button"
        type="button"
        :aria-pressed="asTree"
        :title="asTree ? 'Show as a list' : 'Show as a tree, by the parts of the names'"
        aria-label="As a tree"
        @click="asTree = !asTree"
      >
        <component :is="asTree ? List : ListTree" :size="17" />
      </button>
    </header>
    <p v-if="!layer" class="none">
      {{ picture.reading ? 'Reading the IDs…' : 'Nothing in this frame has an ID.' }}
    </p>
    <template v-else>
      <ElInput
        v-model="pattern"
        size="small"
        clearable
        placeholder="Find by name: jars/* or lid"
        aria-label="Find members"
      />
      <div class="row head" :class="{ sequence: appearances }">
        <span /><span />
        <button class="plain-button" type="button" :aria-pressed="by === 'name'" @click="sort('name')">
          Name <component :is="down ? ArrowDown : ArrowUp" v-if="by === 'name'" :size="12" />
        </button>
        <button
          class="plain-button number"
          type="button"
          :aria-pressed="by === 'share'"
          @click="sort('share')"
        >
          Frame <component :is="down ? ArrowDown : ArrowUp" v-if="by === 'share'" :size="12" />
        </button>
        <span v-if="!appearances" class="number">Pixels</span>
        <span
          v-if="appearances"
          class="number"
          :title="`Frames it appears in, of ${appearances.known.length}`"
          >Seen in</span
        >
      </div>
      <div v-bind="containerProps" class="rows scroll" tabindex="0" @pointerleave="hovered = []">
        <div v-bind="wrapperProps">
          <div
            v-for="{ data: row, index } in list"
            :key="index % POOL"
            class="row"
            :class="{ sequence: appearances, branch: !row.member }"
            @pointerenter="hovered = row.members.map((m) => m.id)"
          >
            <input
              type="checkbox"
              :checked="isChosen(row)"
              :aria-label="`Choose ${row.member?.name ?? row.key}`"
              @change="flip(row)"
            />
            <MemberThumb v-if="row.member" :id="row.member.id" :layer="layer.name" />
            <span v-else />
            <button
              v-if="!row.member"
              class="plain-button cut"
              type="button"
              :aria-expanded="row.open"
              :style="{ paddingLeft: `${12 * row.depth}px` }"
              @click="fold(row)"
            >
              <component :is="row.open ? ChevronDown : ChevronRight" :size="13" />{{ row.label }}
              <span class="quiet">{{ row.members.length }}</span>
            </button>
            <span
              v-else
              class="cut name"
              :title="row.member.name"
              :style="{ paddingLeft: `${12 * row.depth}px` }"
              @click="flip(row)"
              >{{ row.label }}</span
            >
            <span class="number" :title="appearances && `${pixelText(row)} pixels`">{{ share(row) }}</span>
            <span v-if="!appearances" class="number quiet">{{ pixelText(row) }}</span>
            <span v-if="appearances" class="number quiet" :title="framesTitle(row)">{{ framesOf(row) }}</span>
          </div>
        </div>
      </div>
      <p v-if="members.length === 0" class="none">No name fits “{{ pattern }}”.</p>
      <footer>
        <span class="quiet">{{
          chosen.size ? `${chosen.size} chosen` : `${members.length} of ${layer.members.length}`
        }}</span>
        <ElButton size="small" type="primary" :disabled="chosen.size === 0" @click="begin"
          >Begin a change</ElButton
        >
      </footer>
    </template>
  </section>
</template>

<style scoped>
.cast {
  display: flex;
  flex-direction: column;
  gap: 7px;
  min-height: 0;
  height: 100%;
  padding: 10px 12px;
  background: var(--paper);
}
header,
footer {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
}
h2 {
  margin: 0;
  font-size: 15px;
}
.row {
  display: grid;
  grid-template-columns: 16px 44px 1fr 56px 60px;
  align-items: center;
  gap: 6px;
  height: 32px;
  font-size: 13px;
}
.row.sequence {
  grid-template-columns: 16px 44px 1fr 56px 52px;
}
.head {
  height: 24px;
  border-bottom: 1px solid var(--paper-line);
  color: var(--ink-quiet);
}
.head button {
  display: flex;
  align-items: center;
  gap: 3px;
  text-align: left;
}
.branch .cut {
  text-align: left;
}
.branch svg {
  vertical-align: -2px;
}
.name {
  cursor: default;
}
.number {
  justify-content: flex-end;
  text-align: right;
}
.rows {
  flex: 1;
  min-height: 0;
  /* Nothing outside depends on what is in it, however fast it is scrolled. */
  contain: strict;
}
.rows .row {
  contain: layout paint;
}
.rows .row:hover {
  background: var(--paper-shade);
}
.quiet,
.none {
  color: var(--ink-quiet);
}
.none {
  margin: 0;
}
</style>
