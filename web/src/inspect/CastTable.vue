<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus';
import { useVirtualList } from '@vueuse/core';
import { ArrowDown, ArrowUp } from '@lucide/vue';
import { matchMembers } from '@zesty-crow/core/picks';
import { computed, ref, watch } from 'vue';
import type { Member } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';

/** Everything in the frame that has an ID, layer by layer: found by name, sorted, chosen for a change. */
const emit = defineEmits<{ change: [layer: string, members: Member[]] }>();
const picture = usePicture();
const layerName = ref<string>();
const pattern = ref('');
const by = ref<'name' | 'share'>('share');
const down = ref(true);
const chosen = ref(new Set<number>());

const layers = computed(() => picture.cast.filter((l) => l.state === 'there'));
const layer = computed(() => layers.value.find((l) => l.name === layerName.value) ?? layers.value[0]);
watch(layer, () => (chosen.value = new Set()));
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
const { list, containerProps, wrapperProps, scrollTo } = useVirtualList(members, {
  itemHeight: 26,
  overscan: 12,
});
watch([members], () => scrollTo(0));

function sort(key: 'name' | 'share'): void {
  if (by.value === key) down.value = !down.value;
  else [by.value, down.value] = [key, true];
}
function flip(id: number): void {
  const next = new Set(chosen.value);
  if (!next.delete(id)) next.add(id);
  chosen.value = next;
}
function share(m: Member): string {
  const percent = (100 * m.coverage) / pixels.value;
  return percent >= 0.1 ? `${percent.toFixed(1)} %` : '< 0.1 %';
}
function begin(): void {
  const own = layer.value!.members.filter((m) => chosen.value.has(m.id));
  emit('change', layer.value!.name, own);
}
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
      <div class="row head">
        <span />
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
        <span class="number">Pixels</span>
      </div>
      <div v-bind="containerProps" class="rows scroll" tabindex="0">
        <div v-bind="wrapperProps">
          <label v-for="{ data: m } in list" :key="m.id" class="row">
            <input type="checkbox" :checked="chosen.has(m.id)" @change="flip(m.id)" />
            <span class="cut" :title="m.name">{{ m.name }}</span>
            <span class="number">{{ share(m) }}</span>
            <span class="number quiet">{{ m.pixels.toLocaleString('en') }}</span>
          </label>
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
  grid-template-columns: 18px 1fr 64px 70px;
  align-items: center;
  gap: 6px;
  height: 26px;
  font-size: 13px;
}
.head {
  border-bottom: 1px solid var(--paper-line);
  color: var(--ink-quiet);
}
.head button {
  display: flex;
  align-items: center;
  gap: 3px;
  text-align: left;
}
.number {
  justify-content: flex-end;
  text-align: right;
}
.rows {
  flex: 1;
  min-height: 0;
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
