<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu, ElSwitch } from 'element-plus';
import { ChevronDown, ChevronRight, Ellipsis, GripVertical } from '@lucide/vue';
import { computed } from 'vue';
import type { StepUse } from '@zesty-crow/core/changes';
import { correctionOf } from '@zesty-crow/core/corrections';
import { describeValues } from '@zesty-crow/core/fields';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { stepsIn, type Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import type { StepList } from '../../shot/changes/step-kinds.ts';
import { keepPreset } from './presets.ts';
import StepSettings from './StepSettings.vue';

/** One step of a change: a line with its values, and under it, once it is unfolded, all that can be set. */
const props = defineProps<{ change: Owner; list: StepList; use: StepUse; at: number; unfolded: boolean }>();
defineEmits<{ flip: [] }>();
const changes = useChanges();
const picture = usePicture();

const kind = computed(() => props.list.kinds.find((k) => k.kind === props.use.kind));
const label = computed(() => kind.value?.label ?? props.use.kind);
const limited = computed(() => props.list.isLimited(props.use.values));
const summary = computed(() => describeValues(kind.value?.fields ?? [], props.use.values, limited.value));
/** How it is calculated, for who wants to know. */
const numbers = computed(() => correctionOf(props.use.kind)?.numbers);
const tip = computed(() =>
  [`${label.value}${summary.value ? `: ${summary.value}` : ''}`, numbers.value].filter(Boolean).join('\n'),
);
/** A pass that it reads and that this version has not. */
const lost = computed(() => {
  if (!picture.opened) return undefined;
  const names = (kind.value?.fields ?? []).flatMap((f) =>
    f.kind === 'pass' ? [(props.use.values[f.key] as string | undefined) ?? ''] : [],
  );
  return names.find((n) => n !== '' && !picture.opened!.passes.includes(n));
});
function flipOn(on: boolean): void {
  changes.setStepOn(props.change, props.list.name, props.use.id, on);
}
const others = computed(() => changes.list.changes.filter((c) => c.id !== props.change.id));
const last = computed(() => stepsIn(props.change, props.list.name).length - 1);

const COMMANDS: Record<string, (more: string) => void> = {
  up: () => changes.moveStep(props.change, props.list.name, props.at, props.at - 1),
  down: () => changes.moveStep(props.change, props.list.name, props.at, props.at + 1),
  reset: () => changes.resetStep(props.change, props.list.name, props.use.id),
  remove: () => changes.removeStep(props.change, props.list.name, props.use.id),
  copy: (to) => changes.copySteps([props.use], props.list.name, to),
  keep: () => void keepPreset([props.use], label.value).catch(notifyError),
};
function command(text: string): void {
  const [name, ...more] = text.split(' ');
  COMMANDS[name!]!(more.join(' '));
}
</script>

<template>
  <li :class="{ off: !use.on, unfolded }">
    <header>
      <span class="grip" aria-hidden="true"><GripVertical :size="14" :stroke-width="1.5" /></span>
      <button
        class="plain-button title"
        type="button"
        :aria-expanded="unfolded"
        :aria-label="label"
        :title="tip"
        @click="$emit('flip')"
      >
        <component :is="unfolded ? ChevronDown : ChevronRight" :size="14" />
        <strong class="cut">{{ unfolded ? label : (kind?.short ?? label) }}</strong>
        <span v-if="!unfolded" class="summary cut">{{ summary }}</span>
      </button>
      <ElSwitch
        class="paper-switch"
        :model-value="use.on"
        size="small"
        :aria-label="`Apply ${label}`"
        @update:model-value="flipOn($event === true)"
      />
      <ElDropdown trigger="click" :persistent="false" @command="command">
        <button class="plain-button more" type="button" :aria-label="`More for ${label}`">
          <Ellipsis :size="16" />
        </button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem command="up" :disabled="at === 0">Move up</ElDropdownItem>
            <ElDropdownItem command="down" :disabled="at === last">Move down</ElDropdownItem>
            <ElDropdownItem command="reset">Reset all values</ElDropdownItem>
            <ElDropdownItem command="remove">Remove</ElDropdownItem>
            <ElDropdownItem v-if="list.name === 'corrections'" command="keep"
              >Keep as a preset…</ElDropdownItem
            >
            <ElDropdownItem v-for="(c, i) in others" :key="c.id" :command="`copy ${c.id}`" :divided="i === 0">
              <span class="copy">Copy to “{{ c.words || 'New change' }}”</span>
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </header>
    <p v-if="lost !== undefined" class="lost">The pass “{{ lost }}” is not in this version.</p>
    <StepSettings v-if="unfolded" :change="change" :list="list" :use="use" />
  </li>
</template>

<style scoped>
li {
  border-top: 1px solid var(--paper-line);
}
li:last-child {
  border-bottom: 1px solid var(--paper-line);
}
header {
  display: flex;
  align-items: center;
  gap: 5px;
  min-height: 28px;
}
.grip {
  display: grid;
  margin-left: -14px;
  color: var(--ink-quiet);
  cursor: grab;
}
.title {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 5px;
  min-width: 0;
  padding: 4px 0;
  text-align: left;
}
.title svg {
  flex: none;
}
.title strong {
  flex: 0 1 auto;
  font-weight: 550;
}
.summary {
  flex: 1 2 40%;
  min-width: 0;
  color: var(--ink-quiet);
}
header :deep(.el-switch__core) {
  min-width: 26px;
}
.more {
  display: grid;
  padding: 4px 0;
}
/* Off, and still to be read. */
.off .title strong {
  color: var(--ink-quiet);
  text-decoration: line-through;
}
.lost {
  margin: 0 0 6px;
  color: var(--alarm);
}
.copy {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
