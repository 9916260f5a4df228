<script setup lang="ts">
import {
  ElButton,
  ElCheckbox,
  ElCheckboxGroup,
  ElInputNumber,
  ElOption,
  ElPopover,
  ElSelect,
} from 'element-plus';
import { Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { HiddenFrom } from '@zesty-crow/core/roster';
import { usePlan } from '../shot/plan.ts';
import { useSelection } from './selection.ts';

const emit = defineEmits<{ rename: [] }>();
const plan = usePlan();
const selection = useSelection();
const start = ref(1);

const HIDDEN: { value: HiddenFrom; label: string }[] = [
  { value: 'camera', label: 'camera' },
  { value: 'reflections', label: 'reflections' },
  { value: 'refraction', label: 'refraction' },
  { value: 'shadows', label: 'shadow casting' },
];

const sources = computed(() => [...selection.selected]);
const paths = computed(() => [...selection.objectPaths]);

const number = (countUp: boolean) =>
  plan.editSheets(
    selection.what,
    sources.value,
    (i) => ({ number: start.value + (countUp ? i : 0) }),
    `Number ${sources.value.length} things from ${start.value}`,
  );
const unnumber = () =>
  plan.editSheets(selection.what, sources.value, () => ({ number: undefined }), 'Take numbers off');

/** What all selected objects are hidden from. */
const hidden = computed<HiddenFrom[]>({
  get: () =>
    HIDDEN.map((h) => h.value).filter((h) =>
      paths.value.every((p) => plan.plan.objects[p]?.hidden?.includes(h)),
    ),
  set: (next) =>
    plan.editSheets(
      'objects',
      paths.value,
      () => ({ hidden: next.length ? next : undefined }),
      'Change what sees the selection',
    ),
});
const notSeenIn = computed<string[]>({
  get: () => plan.plan.objects[paths.value[0] ?? '']?.notSeenIn ?? [],
  set: (next) =>
    plan.editSheets(
      'objects',
      paths.value,
      () => ({ notSeenIn: next.length ? next : undefined }),
      'Change whose reflections show the selection',
    ),
});
const title = computed(() => {
  const n = sources.value.length;
  return n === 1 ? sources.value[0]! : `${n} selected`;
});
</script>

<template>
  <div class="selection">
    <strong class="cut" :title="title">{{ title }}</strong>
    <label class="number"
      >ID
      <ElInputNumber
        v-model="start"
        :min="0"
        :max="65535"
        :step="1"
        step-strictly
        size="small"
        :controls="false"
        aria-label="Number for the selection"
    /></label>
    <ElButton size="small" @click="number(false)">{{ sources.length > 1 ? 'Same for all' : 'Set' }}</ElButton>
    <ElButton v-if="sources.length > 1" size="small" @click="number(true)">Count up</ElButton>
    <ElButton size="small" text @click="unnumber">None</ElButton>
    <ElButton v-if="sources.length === 1" size="small" @click="emit('rename')">Rename</ElButton>
    <ElPopover v-if="selection.what === 'objects'" trigger="click" :width="280" placement="bottom">
      <template #reference>
        <ElButton size="small">Seen by…</ElButton>
      </template>
      <p class="paper-heading">Hidden from</p>
      <ElCheckboxGroup v-model="hidden" class="hidden">
        <ElCheckbox v-for="h in HIDDEN" :key="h.value" :value="h.value" :label="h.label" />
      </ElCheckboxGroup>
      <p class="paper-heading">Not seen in the reflections of</p>
      <ElSelect
        v-model="notSeenIn"
        multiple
        filterable
        size="small"
        :teleported="false"
        placeholder="no object"
        aria-label="Not seen in the reflections of"
      >
        <ElOption v-for="o in plan.roster.objects" :key="o.source" :value="o.source" :label="o.name" />
      </ElSelect>
    </ElPopover>
    <span class="space" />
    <ElButton size="small" :icon="Plus" @click="plan.addWish('', selection.picks)">Wish for it</ElButton>
  </div>
</template>

<style scoped>
.selection {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 5px 12px;
  background: var(--paper-shade);
  border-bottom: 1px solid var(--paper-line);
}
.selection strong {
  min-width: 0;
  max-width: 190px;
}
.selection .el-button + .el-button {
  margin-left: 0;
}
.number {
  display: flex;
  align-items: center;
  gap: 5px;
  color: var(--ink-quiet);
}
.number :deep(.el-input-number) {
  width: 60px;
}
.space {
  flex: 1;
}
.hidden {
  display: grid;
  margin-bottom: 10px;
}
</style>
