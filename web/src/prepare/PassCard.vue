<script setup lang="ts">
import { ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus';
import { ChevronDown, ChevronRight, Eye, Trash2 } from '@lucide/vue';
import { computed } from 'vue';
import { duration, megabytes, type PassCost, passKind, type PassUse, type Who } from '@zesty-crow/core';
import type { FieldValue } from '@zesty-crow/core/fields';
import FieldControl from '../fields/FieldControl.vue';
import { usePlan } from '../shot/plan.ts';
import { useSelection } from './selection.ts';
import WhoField from './WhoField.vue';

const props = defineProps<{ use: PassUse; cost: PassCost | undefined; open: boolean }>();
defineEmits<{ toggle: [] }>();
const plan = usePlan();
const selection = useSelection();

const kind = computed(() => passKind(props.use.kind));
const title = computed(() => kind.value?.title(props.use.values) ?? props.use.kind);
const fault = computed(() => (props.use.on ? kind.value?.fault?.(props.use.values, plan.roster) : undefined));
/** Fields that mean something with the values as they are. */
const fields = computed(() =>
  (kind.value?.fields ?? []).filter(
    (f) =>
      (f.key !== 'level' || props.use.values['by'] === 'group') &&
      (f.key !== 'attribute' || props.use.values['by'] === 'attribute'),
  ),
);

const whoAt = (key: string) => props.use.values[key] as Who | undefined;
function set(key: string, value: unknown): void {
  const values = { ...props.use.values };
  if (value === undefined || value === null) delete values[key];
  else values[key] = value;
  props.use.values = values;
  void plan.commit(`Change ${kind.value?.label.toLowerCase() ?? 'pass'}`);
}
</script>

<template>
  <li class="pass" :class="{ off: !use.on }">
    <div class="head">
      <button
        class="plain-button twist"
        type="button"
        :aria-expanded="open"
        :aria-label="`Settings of ${title}`"
        @click="$emit('toggle')"
      >
        <component :is="open ? ChevronDown : ChevronRight" :size="15" :stroke-width="1.6" />
      </button>
      <span class="cut title" :title="title" @click="$emit('toggle')">{{ title }}</span>
      <button
        v-if="kind?.isolates"
        class="plain-button eye"
        type="button"
        :aria-pressed="selection.pass === use.id"
        :aria-label="`See ${title}`"
        title="See it in the scene"
        @click="selection.pass = selection.pass === use.id ? '' : use.id"
      >
        <Eye :size="15" :stroke-width="1.6" />
      </button>
      <i v-else />
      <span class="cost">{{ cost && use.on ? `${duration(cost.seconds)}` : '' }}</span>
      <span class="cost">{{ cost && use.on ? megabytes(cost.bytes) : '' }}</span>
      <ElSwitch
        v-model="use.on"
        size="small"
        class="paper-switch"
        :aria-label="`Render ${title}`"
        @change="plan.commit(`${use.on ? 'Render' : 'Leave out'} ${title}`)"
      />
    </div>
    <p v-if="fault" class="fault" :class="fault.severity">{{ fault.message }}</p>
    <div v-if="open && kind" class="fields">
      <p class="paper-hint">{{ kind.hint }}</p>
      <template v-for="f in fields" :key="f.key">
        <WhoField
          v-if="f.kind === 'who'"
          :label="f.label"
          :optional="f.optional"
          :model-value="whoAt(f.key)"
          @change="set(f.key, $event)"
        />
        <FieldControl
          v-else
          :field="f"
          :slider="false"
          :model-value="(use.values[f.key] as FieldValue | undefined) ?? f.neutral"
          @update:model-value="set(f.key, $event)"
        />
      </template>
      <div class="foot">
        <ElRadioGroup
          v-if="kind.group !== 'ids'"
          v-model="use.depth"
          size="small"
          aria-label="Bits of a sample"
          @change="plan.commit(`Store ${title} as ${use.depth}`)"
        >
          <ElRadioButton value="half" label="half, 16 bit" />
          <ElRadioButton value="float" label="float, 32 bit" />
        </ElRadioGroup>
        <span v-else class="paper-hint">Always 32-bit float: IDs do not survive anything less.</span>
        <button
          class="plain-button"
          type="button"
          :aria-label="`Remove ${title}`"
          @click="plan.removePass(use.id)"
        >
          <Trash2 :size="15" :stroke-width="1.6" />
        </button>
      </div>
    </div>
  </li>
</template>

<style scoped>
.pass {
  border-bottom: 1px solid var(--paper-line);
}
.eye[aria-pressed='true'] {
  background: var(--lemon);
}
.head {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) 20px 48px 56px 34px;
  gap: 4px;
  align-items: center;
  min-height: 31px;
}
.twist {
  display: grid;
}
.title {
  cursor: default;
}
.off .title {
  color: var(--ink-quiet);
}
.cost {
  text-align: right;
  font-size: 13px;
  color: var(--ink-quiet);
  white-space: nowrap;
}
.head .el-switch {
  justify-self: end;
}
.fault {
  margin: 0 0 6px 22px;
}
/* The message goes on after the pass's name elsewhere. */
.fault::first-letter {
  text-transform: uppercase;
}
.fault.error {
  color: var(--alarm);
}
.fault.warning {
  color: var(--ink-quiet);
}
.fields {
  padding: 0 0 8px 22px;
}
.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 6px;
}
.foot .paper-hint {
  margin: 0;
}
</style>
