<script setup lang="ts">
import { ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { computed } from 'vue';
import { partsOfWho, type Who } from '@zesty-crow/core';
import { usePlan } from '../shot/plan.ts';
import { useSelection } from './selection.ts';

const props = defineProps<{ label: string; modelValue: Who | undefined; optional: boolean }>();
const emit = defineEmits<{ change: [who: Who | undefined] }>();
const plan = usePlan();
const selection = useSelection();

const KINDS = [
  { value: 'none', label: 'nothing' },
  { value: 'object number', label: 'object number' },
  { value: 'material number', label: 'material number' },
  { value: 'objects', label: 'objects' },
  { value: 'materials', label: 'materials' },
] as const;
const kinds = computed(() => KINDS.filter((k) => k.value !== 'none' || props.optional || !props.modelValue));
const kind = computed(() => props.modelValue?.of ?? 'none');
const members = computed(() =>
  props.modelValue && 'members' in props.modelValue ? props.modelValue.members : [],
);
const names = computed(() =>
  kind.value === 'materials'
    ? plan.roster.materials.map((m) => m.name)
    : [...plan.roster.groups.map((g) => g.name), ...plan.roster.objects.map((o) => o.name)],
);
const count = computed(() => (props.modelValue ? partsOfWho(props.modelValue, plan.roster).length : 0));

function setKind(of: (typeof KINDS)[number]['value']): void {
  if (of === 'none') return emit('change', undefined);
  if (of === 'object number' || of === 'material number') {
    const entries = of === 'object number' ? plan.roster.objects : plan.roster.materials;
    return emit('change', { of, number: entries.find((e) => e.number > 0)?.number ?? 1 });
  }
  // The selection is most likely what is meant.
  const chosen = selection.picks
    .filter((p) => (of === 'materials') === (p.layer === 'materials'))
    .map((p) => p.member);
  emit('change', { of, members: chosen });
}
</script>

<template>
  <div class="who-field">
    <span>{{ label }}</span>
    <ElSelect
      :model-value="kind"
      size="small"
      :aria-label="`${label}: by what`"
      @update:model-value="setKind"
    >
      <ElOption v-for="k in kinds" :key="k.value" :value="k.value" :label="k.label" />
    </ElSelect>
    <ElInputNumber
      v-if="modelValue && 'number' in modelValue"
      :model-value="modelValue.number"
      :min="0"
      :max="65535"
      :controls="false"
      size="small"
      :aria-label="`${label}: number`"
      @change="(n) => emit('change', { of: modelValue!.of as 'object number', number: n ?? 0 })"
    />
    <ElSelect
      v-else-if="modelValue"
      :model-value="members"
      multiple
      filterable
      allow-create
      default-first-option
      collapse-tags
      size="small"
      placeholder="names, or a rule: bee_*"
      :aria-label="`${label}: members`"
      class="members"
      @update:model-value="
        (list: string[]) => emit('change', { of: modelValue!.of as 'objects', members: list })
      "
    >
      <ElOption v-for="n in names" :key="n" :value="n" :label="n" />
    </ElSelect>
    <small v-if="modelValue" :class="{ none: count === 0 }">{{ count === 0 ? 'matches nothing' : '' }}</small>
  </div>
</template>

<style scoped>
.who-field {
  display: grid;
  grid-template-columns: 52px 128px minmax(0, 1fr);
  gap: 6px;
  align-items: center;
  margin-bottom: 4px;
}
.who-field :deep(.el-input-number) {
  width: 70px;
}
small {
  grid-column: 2 / -1;
}
small:empty {
  display: none;
}
.none {
  color: var(--alarm);
}
</style>
