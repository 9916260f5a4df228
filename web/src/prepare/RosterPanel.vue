<script setup lang="ts">
import RenameInput from '../fields/RenameInput.vue';
import { ElAutoResizer, ElInput, ElTreeV2 } from 'element-plus';
import { EyeOff, Search } from '@lucide/vue';
import { computed, nextTick, ref, watch } from 'vue';
import type { RosterEntry } from '@zesty-crow/core/roster';
import { clashing } from './number-clashes.ts';
import { usePlan } from '../shot/plan.ts';
import { rowsBetween, rowsOf, type Row } from './rows.ts';
import RulesBar from './RulesBar.vue';
import SelectionBar from './SelectionBar.vue';
import { useSelection } from './selection.ts';

const plan = usePlan();
const selection = useSelection();
const search = ref('');
const tree = ref<InstanceType<typeof ElTreeV2>>();
const renaming = ref<string>();
const showRules = ref(false);

const objectEntries = computed(() => new Map(plan.roster.objects.map((e) => [e.source, e])));
const materialEntries = computed(() => new Map(plan.roster.materials.map((e) => [e.source, e])));
const clashes = computed(() =>
  clashing(selection.what === 'objects' ? plan.roster.objects : plan.roster.materials),
);

/** The tree follows from the scene alone: edits of the plan must not fold it up. */
const rows = computed(() => (plan.outline ? rowsOf(plan.outline, selection.what) : []));

function filter(text: string, data: unknown): boolean {
  const row = data as Row;
  const name = entry(row)?.name ?? row.id;
  return `${row.id} ${name}`.toLowerCase().includes(text.toLowerCase());
}
watch(search, (text) => tree.value?.filter(text.trim()));
watch(rows, async () => {
  await nextTick();
  if (search.value.trim()) tree.value?.filter(search.value.trim());
});
// What was clicked in the view is brought into sight here.
watch(
  () => selection.last,
  async (source) => {
    if (!source) return;
    const above: string[] = [];
    for (let cut = source.indexOf('/'); cut > 0; cut = source.indexOf('/', cut + 1))
      above.push(source.slice(0, cut));
    if (above.length) tree.value?.setExpandedKeys([...new Set([...expanded.value, ...above])]);
    await nextTick();
    tree.value?.scrollToNode(source, 'smart');
  },
);
const expanded = ref(new Set<string>());

/** Ctrl adds a row or takes it out; Shift takes all from the row that was chosen last to this one. */
function choose({ id }: Row, event: MouseEvent): void {
  if (!event.shiftKey || !selection.last) return selection.choose(id, event.ctrlKey || event.metaKey);
  const text = search.value.trim();
  selection.set([
    ...(event.ctrlKey || event.metaKey ? selection.selected : []),
    ...rowsBetween(
      rows.value,
      selection.last,
      id,
      (row) => text !== '' || expanded.value.has(row.id),
      (row) => text === '' || filter(text, row),
    ),
  ]);
}

const entry = (row: Row): RosterEntry | undefined =>
  (row.kind === 'material' ? materialEntries : objectEntries).value.get(row.id);
const sheet = (row: Row) =>
  row.kind === 'material' ? plan.plan.materials[row.id] : plan.plan.objects[row.id];
const ownNumber = (row: Row) => sheet(row)?.number;
const shownName = (row: Row) => {
  const name = sheet(row)?.name;
  return name ?? row.label;
};
const hiddenFrom = (row: Row) => (row.kind === 'object' ? (plan.plan.objects[row.id]?.hidden ?? []) : []);

/** Empty cells show what is handed down and from where. */
function placeholder(row: Row): string {
  const e = entry(row);
  return e && e.numberFrom !== 'own' && e.number > 0 ? String(e.number) : '–';
}
function numberTitle(row: Row): string {
  const e = entry(row);
  if (clashes.value.has(row.id)) return `Number ${e!.number} belongs to something else, too`;
  if (!e) return 'Number handed down to all objects in the group';
  return { own: 'Own number', group: 'Handed down by its group', rule: 'Given by a rule', none: 'No number' }[
    e.numberFrom
  ];
}

function setNumber(row: Row, text: string): void {
  const value = text.trim() === '' ? undefined : Number(text);
  if (value !== undefined && !(Number.isInteger(value) && value >= 0 && value <= 65535)) return;
  // A number typed into one of several selected rows is meant for all of them.
  const many = selection.selected.has(row.id) && selection.selected.size > 1;
  const whom = many ? `${selection.selected.size} things` : row.label;
  plan.editSheets(
    selection.what,
    many ? [...selection.selected] : [row.id],
    () => ({ number: value }),
    value === undefined ? `Take number off ${whom}` : `Number ${whom} ${value}`,
  );
}
/** Renames the only row that is chosen. */
function renameChosen(): void {
  const [id] = selection.selected;
  if (id === undefined) return;
  renaming.value = id;
}
/** A row without a name of its own has the scene's. */
const nameOf = (row: Row) => entry(row)?.name ?? plan.plan.objects[row.id]?.name ?? row.id;
function rename(row: Row, name: string | undefined): void {
  renaming.value = undefined;
  if (name === undefined) return;
  plan.editSheets(
    selection.what,
    [row.id],
    () => ({ name: name === '' || name === row.id ? undefined : name }),
    `Rename ${row.label}`,
  );
}
</script>

<template>
  <section class="roster" aria-label="What is in the scene">
    <header class="room-bar">
      <div class="group" role="tablist">
        <button
          class="plain-button room-button"
          :class="{ on: selection.what === 'objects' }"
          role="tab"
          :aria-selected="selection.what === 'objects'"
          type="button"
          @click="selection.what = 'objects'"
        >
          Objects <small>{{ plan.roster.objects.length }}</small>
        </button>
        <button
          class="plain-button room-button"
          :class="{ on: selection.what === 'materials' }"
          role="tab"
          :aria-selected="selection.what === 'materials'"
          type="button"
          @click="selection.what = 'materials'"
        >
          Materials <small>{{ plan.roster.materials.length }}</small>
        </button>
      </div>
      <ElInput
        v-model="search"
        size="small"
        clearable
        :prefix-icon="Search"
        :placeholder="selection.what === 'objects' ? 'Find an object or group' : 'Find a material'"
        aria-label="Find in the scene"
        class="search"
      />
      <button
        class="plain-button room-button"
        :class="{ on: showRules }"
        type="button"
        :aria-pressed="showRules"
        @click="showRules = !showRules"
      >
        Number rules <small>{{ plan.plan.rules.length }}</small>
      </button>
    </header>
    <RulesBar v-if="showRules" />
    <SelectionBar v-if="selection.selected.size" @rename="renameChosen" />
    <div class="paper-list">
      <div class="heads">
        <span>Name</span><span>{{ selection.what === 'objects' ? 'Object ID' : 'Material ID' }}</span>
      </div>
      <div class="fill">
        <ElAutoResizer>
          <template #default="{ height }">
            <ElTreeV2
              ref="tree"
              :data="rows"
              :props="{ value: 'id', label: 'label', children: 'children' }"
              :height="Math.max(60, height)"
              :item-size="27"
              :indent="14"
              :filter-method="filter"
              :expand-on-click-node="false"
              empty-text="Nothing is called that."
              @node-expand="(row) => expanded.add((row as Row).id)"
              @node-collapse="(row) => expanded.delete((row as Row).id)"
            >
              <template #default="{ data }">
                <div
                  class="row"
                  :class="{
                    chosen: selection.selected.has((data as Row).id),
                    group: (data as Row).kind === 'group',
                  }"
                  :title="`${(data as Row).id} – double-click to rename`"
                  @click="choose(data as Row, $event)"
                  @dblclick="renaming = (data as Row).id"
                >
                  <RenameInput
                    v-if="renaming === (data as Row).id"
                    class="rename"
                    :name="nameOf(data as Row)"
                    label="New name"
                    :most="1000"
                    @end="rename(data as Row, $event)"
                  />
                  <span v-else class="cut name">{{ shownName(data as Row) }}</span>
                  <EyeOff
                    v-if="hiddenFrom(data as Row).length"
                    :size="14"
                    :stroke-width="1.6"
                    :aria-label="`Hidden from ${hiddenFrom(data as Row).join(', ')}`"
                  />
                  <input
                    class="number"
                    :class="{ clash: clashes.has((data as Row).id) }"
                    type="text"
                    inputmode="numeric"
                    :value="ownNumber(data as Row) ?? ''"
                    :placeholder="placeholder(data as Row)"
                    :title="numberTitle(data as Row)"
                    :aria-label="`Number of ${(data as Row).id}`"
                    @click.stop
                    @dblclick.stop
                    @change="setNumber(data as Row, ($event.target as HTMLInputElement).value)"
                  />
                </div>
              </template>
            </ElTreeV2>
          </template>
        </ElAutoResizer>
      </div>
    </div>
  </section>
</template>

<style scoped>
.roster {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.roster header {
  border-bottom: 1px solid var(--room-line);
}
.room-button small {
  color: var(--on-room-quiet);
  margin-left: 3px;
}
.search {
  flex: 1;
  max-width: 260px;
}
.paper-list {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  background: var(--paper);
}
.heads {
  display: flex;
  justify-content: space-between;
  padding: 3px 14px 3px 26px;
  font-size: 12px;
  color: var(--ink-quiet);
  border-bottom: 1px solid var(--paper-line);
}
.fill {
  flex: 1;
  min-height: 0;
}
.fill :deep(.el-tree) {
  --el-tree-node-content-height: 27px;
  --el-tree-node-hover-bg-color: var(--paper-shade);
  background: var(--paper);
  color: var(--ink);
}
.row {
  display: flex;
  align-items: center;
  gap: 8px;
  flex: 1;
  min-width: 0;
  height: 27px;
  padding: 0 10px 0 6px;
  cursor: default;
  user-select: none;
}
.row .name {
  flex: 1;
}
.row.group .name {
  font-weight: 600;
}
.row.chosen {
  background: var(--lemon-soft);
  box-shadow: inset 3px 0 var(--lemon);
}
.number {
  width: 62px;
  height: 21px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: transparent;
  text-align: right;
  padding: 0 6px;
  font-weight: 600;
  color: inherit;
}
.number::placeholder {
  color: var(--ink-quiet);
  font-style: italic;
  font-weight: 400;
}
.row:hover .number,
.number:focus {
  border-color: #c9c4b5;
  background: var(--paper-bright);
}
.number.clash {
  color: var(--alarm);
}
.number.clash::placeholder {
  color: var(--alarm);
}
</style>
