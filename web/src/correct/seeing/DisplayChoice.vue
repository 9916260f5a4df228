<script setup lang="ts">
import { ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import { computed } from 'vue';
import { DISPLAY_TRANSFORMS, parseCube } from '@zesty-crow/core/display';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useView } from '../../shot/view.ts';
import { textOfFile } from '../../fields/file-text.ts';

/** How light is shown on the screen: for looking only. */
const view = useView();
const picture = usePicture();

const TABLE = 'table';
/** Bytes of a table of 129 steps each way, with room for long numbers. */
const MOST_TABLE = 128 * 2 ** 20;
const chosen = computed(() => (view.table ? TABLE : view.transform));
const hint = computed(() =>
  view.table
    ? `${view.table.size} ${view.table.dimensions === 3 ? 'steps each way' : 'steps'}`
    : DISPLAY_TRANSFORMS.find((t) => t.name === view.transform)!.hint,
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
</script>

<template>
  <div class="rows">
    <!-- No label: a click on an option would reach the field through it, and open the list again. -->
    <div class="row">
      <span>Transform</span>
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
    <p class="hint">{{ hint }}</p>
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
      <span>Gamma</span>
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
  </div>
</template>

<style scoped>
.rows {
  display: grid;
  gap: 8px;
}
label,
.row {
  display: grid;
  grid-template-columns: 88px 1fr;
  gap: 8px;
  align-items: center;
}
p {
  margin: 0;
  font-size: 13px;
}
</style>
