<script lang="ts">
/** A file as the dialog lists it. */
export interface FileRow {
  path: string;
  what: string;
  frame: number | null;
  why: string;
  /** Number of its group; -1 leaves it out. */
  group: number;
}
</script>

<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { GripVertical } from '@lucide/vue';
import Sortable from 'sortablejs';
import { computed, onMounted, onUnmounted, ref } from 'vue';

/** Files of one group, or those that are left out: by dragging or choosing each goes to another one. */
const props = defineProps<{ rows: readonly FileRow[]; group: number; titles: readonly string[] }>();
const emit = defineEmits<{ move: [row: number, group: number] }>();
/** Rows that are drawn: hundreds of frames are grouped alike. */
const LONG = 300;
const own = computed(() =>
  props.rows.flatMap((row, at) => (row.group === props.group ? [{ ...row, at }] : [])),
);
const body = ref<HTMLElement>();
let sortable: Sortable | undefined;
onMounted(() => {
  sortable = Sortable.create(body.value!, {
    group: 'files',
    sort: false,
    handle: '.grip',
    draggable: '.file',
    forceFallback: true,
    fallbackTolerance: 3,
    animation: 120,
    onAdd({ item, from, oldIndex }) {
      // The lists draw themselves from the data: put the row back before the data change.
      item.remove();
      from.insertBefore(item, from.children[oldIndex ?? 0] ?? null);
      emit('move', Number(item.dataset['row']), props.group);
    },
  });
});
onUnmounted(() => sortable?.destroy());
</script>

<template>
  <table>
    <tbody ref="body">
      <tr v-for="row in own.slice(0, LONG)" :key="row.path" class="file" :data-row="row.at">
        <td><GripVertical class="grip" :size="14" /></td>
        <td class="cut" :title="row.path">{{ row.path }}</td>
        <td>{{ row.what }}</td>
        <td class="number">{{ row.frame ?? '' }}</td>
        <td class="quiet cut" :title="row.why">{{ row.why }}</td>
        <td>
          <ElSelect
            :model-value="row.group"
            size="small"
            :aria-label="`Where ${row.path} belongs`"
            @update:model-value="(n: number) => emit('move', row.at, n)"
          >
            <ElOption v-for="(title, n) in titles" :key="n" :value="n" :label="title" />
            <ElOption :value="-1" label="Leave out" />
          </ElSelect>
        </td>
      </tr>
      <tr v-if="own.length > LONG || own.length === 0" class="rest">
        <td colspan="6" class="quiet">
          {{
            own.length === 0
              ? 'Nothing. Drag files here.'
              : `${own.length - LONG} more files are grouped alike.`
          }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
  margin-top: 6px;
  font-size: 13px;
}
td {
  padding: 2px 8px 2px 0;
  border-top: 1px solid var(--paper-line);
}
td:nth-child(1) {
  width: 22px;
}
td:nth-child(2) {
  width: 30%;
}
td:nth-child(3) {
  width: 16%;
}
td:nth-child(4) {
  width: 7%;
}
td:nth-child(6) {
  width: 19%;
}
td[colspan] {
  width: auto;
}
.grip {
  display: block;
  color: var(--ink-quiet);
  cursor: grab;
}
.number {
  text-align: right;
}
.quiet {
  color: var(--ink-quiet);
}
</style>
