<script setup lang="ts">
import { ElButton, ElInputNumber, ElOption, ElPopover, ElSelect } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import { computed } from 'vue';
import { DISPLAY_TRANSFORMS, parseCube } from '@zesty-crow/core/display';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useLook } from '../../shot/look.ts';
import { textOfFile } from '../../fields/file-text.ts';

/** How light is shown on the screen: for looking only. */
const view = useLook();
const picture = usePicture();

const TABLE = 'table';
/** Bytes of a table of 129 steps each way, with room for long numbers. */
const MOST_TABLE = 128 * 2 ** 20;
const chosen = computed(() => (view.table ? TABLE : view.transform));
const label = computed(() => {
  const name = view.table
    ? view.table.title || 'Table'
    : DISPLAY_TRANSFORMS.find((t) => t.name === view.transform)!.label;
  return view.gamma === 1 ? name : `${name}, γ ${view.gamma}`;
});
const hint = computed(() =>
  view.table
    ? `${view.table.size} ${view.table.dimensions === 3 ? 'steps each way' : 'steps'}`
    : DISPLAY_TRANSFORMS.find((t) => t.name === view.transform)!.hint,
);
const plain = computed(
  () => view.transform === 'srgb' && !view.table && view.gamma === 1 && view.stops === 0,
);

const { open, onChange } = useFileDialog({ accept: '.cube', multiple: false, reset: true });
onChange((files) => {
  const file = files?.[0];
  if (file) void load(file).catch(notifyError);
});
async function load(file: File): Promise<void> {
  const text = await textOfFile(file, MOST_TABLE);
  let table;
  try {
    table = parseCube(text);
  } catch (error) {
    throw new Error(`${file.name} is no table that can be used. ${(error as Error).message}`);
  }
  await picture.useTable(table);
  view.table = { ...table, title: table.title || file.name.replace(/\.cube$/i, ''), takes: 'srgb' };
}
function choose(name: string): void {
  if (name === TABLE) return open();
  view.table = undefined;
  view.transform = name;
}
function reset(): void {
  view.table = undefined;
  view.transform = 'srgb';
  view.gamma = 1;
  view.stops = 0;
}
</script>

<template>
  <ElPopover trigger="click" placement="bottom-end" :width="292" :teleported="true">
    <template #reference>
      <button
        class="plain-button room-button shown-as"
        type="button"
        :class="{ on: !plain }"
        :title="`How it is shown; the picture stays as it is. ${hint}`"
      >
        {{ label }}
      </button>
    </template>
    <div class="rows">
      <!-- No label: a click on an option would reach the field through it, and open the list again. -->
      <div class="row">
        <span>Shown as</span>
        <ElSelect
          size="small"
          :model-value="chosen"
          :teleported="false"
          aria-label="Display transform"
          @update:model-value="choose($event as string)"
        >
          <ElOption v-for="t in DISPLAY_TRANSFORMS" :key="t.name" :value="t.name" :label="t.label" />
          <ElOption :value="TABLE" label="Table from a .cube file…" />
        </ElSelect>
      </div>
      <p>{{ hint }}</p>
      <div v-if="view.table" class="row">
        <span>Made for</span>
        <ElSelect
          :model-value="view.table.takes"
          size="small"
          :teleported="false"
          aria-label="What the table is made for"
          @update:model-value="view.table = { ...view.table, takes: $event as 'linear' | 'srgb' }"
        >
          <ElOption value="srgb" label="what sRGB shows" />
          <ElOption value="linear" label="linear light" />
        </ElSelect>
      </div>
      <label @dblclick="view.gamma = 1">
        <span>View gamma</span>
        <ElInputNumber
          v-model="view.gamma"
          size="small"
          :min="0.2"
          :max="5"
          :step="0.1"
          :precision="2"
          controls-position="right"
          aria-label="View gamma"
        />
      </label>
      <p>All of this changes the screen, never the picture.</p>
      <ElButton size="small" :disabled="plain" @click="reset">Reset the view</ElButton>
    </div>
  </ElPopover>
</template>

<style scoped>
.shown-as {
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.rows {
  display: grid;
  gap: 8px;
}
label,
.row {
  display: grid;
  grid-template-columns: 88px 1fr;
  align-items: center;
}
p {
  margin: 0;
  font-size: 13px;
}
</style>
