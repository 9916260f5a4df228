<script setup lang="ts">
import { ElButton, ElInput, ElPopover } from 'element-plus';
import { Plus, Search } from '@lucide/vue';
import { computed, nextTick, ref, watch } from 'vue';
import type { FieldValue } from '@zesty-crow/core/fields';
import type { StepUse } from '@zesty-crow/core/changes';
import type { Preset } from '@zesty-crow/server/contract';
import { usePicture } from '../../picture/picture.ts';
import type { Owner } from '@zesty-crow/core/changes/edit';
import PresetRow from './PresetRow.vue';
import { loadPresets, presets } from './presets.ts';
import { unusable, valuesToBegin, type StepKind, type StepList } from '../../shot/changes/step-kinds.ts';

/** The list from which a step is added: in groups, each with a line that says what it is for, found by typing. */
const props = defineProps<{ list: StepList; change: Owner }>();
const emit = defineEmits<{
  add: [step: { kind: string; values: Record<string, FieldValue> }];
  /** All of a preset. */
  addAll: [steps: readonly StepUse[], name: string];
}>();
const picture = usePicture();

const open = ref(false);
const search = ref('');
const at = ref(0);
const input = ref<InstanceType<typeof ElInput>>();
const passes = computed(() => picture.opened?.passes ?? []);

const found = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  return props.list.kinds.filter(({ label, hint, group }) => {
    const text = `${label} ${hint} ${group}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
});
/** Which one is meant: a name goes before a purpose. */
function aim(): void {
  const text = search.value.trim().toLowerCase();
  const first = (is: (label: string) => boolean) => found.value.findIndex((k) => is(k.label.toLowerCase()));
  const named = [first((l) => l.startsWith(text)), first((l) => l.includes(text))].find((i) => i >= 0);
  at.value = named ?? 0;
}
/** Presets are of corrections only. */
const kept = computed(() => {
  if (props.list.name !== 'corrections' || !('corrections' in props.change)) return [];
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  return presets.value.filter((p) => words.every((w) => p.name.toLowerCase().includes(w)));
});
function takePreset({ corrections, name }: Preset): void {
  open.value = false;
  emit('addAll', corrections, name);
}
const groups = computed(() => [...new Set(found.value.map((k) => k.group))]);

// Not once it is shown: somebody may be typing by then.
watch(open, (now) => {
  if (now) return;
  search.value = '';
  at.value = 0;
});
function shown(): void {
  if (props.list.name === 'corrections') void loadPresets().catch(() => undefined);
  void nextTick(() => input.value?.focus());
}
function choose(kind: StepKind | undefined): void {
  if (!kind || unusable(kind, passes.value)) return;
  open.value = false;
  emit('add', { kind: kind.kind, values: valuesToBegin(kind, passes.value) });
}
const listElement = ref<HTMLElement>();
function move(by: number): void {
  at.value = Math.min(found.value.length - 1, Math.max(0, at.value + by));
  void nextTick(() => listElement.value?.querySelector('.at')?.scrollIntoView({ block: 'nearest' }));
}
</script>

<template>
  <ElPopover
    v-model:visible="open"
    trigger="click"
    placement="left"
    :width="330"
    :persistent="false"
    :show-arrow="false"
    :hide-after="0"
    @show="shown"
  >
    <template #reference>
      <slot name="reference"><ElButton size="small" :icon="Plus">{{ list.add }}</ElButton></slot>
    </template>
    <ElInput
      ref="input"
      v-model="search"
      size="small"
      clearable
      :prefix-icon="Search"
      placeholder="Find by name or purpose"
      :aria-label="`Find: ${list.add}`"
      @input="aim"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="choose(found[at])"
      @keydown.esc.stop="open = false"
    />
    <div ref="listElement" class="offered scroll">
      <template v-for="group in groups" :key="group">
        <h4 v-if="group">{{ group }}</h4>
        <button
          v-for="k in found.filter((f) => f.group === group)"
          :key="k.kind"
          class="plain-button"
          type="button"
          :class="{ at: found[at] === k }"
          :disabled="unusable(k, passes) !== undefined"
          @mousemove="at = found.indexOf(k)"
          @click="choose(k)"
        >
          <b>{{ k.label }}</b>
          <small>{{ unusable(k, passes) ?? k.hint }}</small>
        </button>
      </template>
      <template v-if="kept.length && 'corrections' in change">
        <h4>Your presets</h4>
        <PresetRow v-for="p in kept" :key="p.id" :preset="p" :change="change" @choose="takePreset(p)" />
      </template>
      <p v-if="found.length === 0 && kept.length === 0" class="paper-hint">
        Nothing is called that, or is for that.
      </p>
    </div>
    <slot />
  </ElPopover>
</template>

<style scoped>
.offered {
  max-height: min(430px, 60vh);
  margin-top: 8px;
}
h4 {
  margin: 8px 0 2px;
  color: var(--ink-quiet);
  font-size: 13px;
  font-weight: 500;
}
.offered button {
  display: block;
  width: 100%;
  padding: 3px 8px 4px;
  text-align: left;
}
.offered button.at:not(:disabled) {
  background: var(--paper-shade);
}
.offered button:disabled {
  opacity: 0.6;
}
b {
  display: block;
  font-weight: 550;
}
small {
  display: block;
  color: var(--ink-quiet);
  font-size: 13px;
  line-height: 1.25;
}
</style>
