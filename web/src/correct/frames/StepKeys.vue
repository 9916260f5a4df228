<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus';
import { Slash, Spline, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { canBeKeyed, type Keyframe, type StepUse } from '@zesty-crow/core/changes';
import type { Field, FieldValue } from '@zesty-crow/core/fields';
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import { describeValue } from '@zesty-crow/core/fields';
import type { StepKey } from '@zesty-crow/core/changes';
import { useSequence } from './sequence.ts';

/** Values of a step that change from frame to frame: each with its keyframes, and one more at the frame that is open. */
const props = defineProps<{
  change: Owner;
  list: StepKey;
  use: StepUse;
  fields: readonly Field[];
  /** The value of a field at this frame. */
  valueOf: (field: Field) => FieldValue | undefined;
}>();
const changes = useChanges();
const sequence = useSequence();

const keys = computed(() => changes.stepOf(props.change, props.list, props.use.id)?.keys ?? {});
const able = computed(() => props.fields.filter(canBeKeyed));
const keyed = computed(() => able.value.filter((f) => keys.value[f.key]));
const others = computed(() => able.value.filter((f) => !keys.value[f.key]));
const chosen = ref('');
const next = computed(() => others.value.find((f) => f.key === chosen.value) ?? others.value[0]);

function put(field: Field): void {
  const value = props.valueOf(field);
  if (value !== undefined) changes.setKey(props.change, props.list, props.use.id, field.key, value);
}
function flipWay(field: Field, key: Keyframe): void {
  const way = key.way === 'eased' ? 'linear' : 'eased';
  changes.setWay(props.change, props.list, props.use.id, field.key, key, way);
}
function drop(field: Field, { frame }: Keyframe): void {
  changes.removeKey(props.change, props.list, props.use.id, field.key, frame);
}
</script>

<template>
  <details v-if="able.length" :open="keyed.length > 0">
    <summary>Over frames</summary>
    <div v-for="f in keyed" :key="f.key" class="field" role="group" :aria-label="`${f.label} over frames`">
      <span class="cut">{{ f.label }}</span>
      <span class="keys">
        <span
          v-for="k in keys[f.key]"
          :key="k.frame"
          class="key"
          :class="{ now: k.frame === changes.frame }"
          :title="`${describeValue(f, k.value)} at frame ${k.frame}, then ${k.way === 'eased' ? 'slowly at both ends' : 'evenly'} to the next`"
        >
          <button
            class="plain-button"
            type="button"
            :aria-label="`Go to frame ${k.frame}`"
            @click="sequence.go(k.frame)"
          >
            {{ k.frame }}
          </button>
          <button
            class="plain-button"
            type="button"
            :aria-pressed="k.way === 'eased'"
            :aria-label="`Ease the way from frame ${k.frame}`"
            :title="k.way === 'eased' ? 'Goes slowly at both ends; make it even' : 'Goes evenly; ease it'"
            @click="flipWay(f, k)"
          >
            <component :is="k.way === 'eased' ? Spline : Slash" :size="11" />
          </button>
          <button
            class="plain-button"
            type="button"
            :aria-label="`Remove the key at frame ${k.frame}`"
            @click="drop(f, k)"
          >
            <X :size="12" />
          </button>
        </span>
        <ElButton v-if="!keys[f.key]!.some((k) => k.frame === changes.frame)" size="small" @click="put(f)"
          >Key at {{ changes.frame }}</ElButton
        >
      </span>
    </div>
    <div v-if="next" class="more">
      <ElSelect
        size="small"
        :model-value="next.key"
        aria-label="Value to key"
        @update:model-value="chosen = $event as string"
      >
        <ElOption v-for="f in others" :key="f.key" :value="f.key" :label="f.label" />
      </ElSelect>
      <ElButton size="small" @click="put(next)">Key at frame {{ changes.frame }}</ElButton>
    </div>
  </details>
</template>

<style scoped>
details {
  margin-top: 4px;
}
summary {
  padding: 3px 0;
  color: var(--ink-quiet);
  cursor: pointer;
}
.field {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 6px;
  align-items: baseline;
  padding: 2px 0;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.key {
  display: inline-flex;
  align-items: center;
  padding: 0 4px;
  background: var(--paper-line);
}
.key.now {
  background: var(--crow);
  color: var(--paper);
}
.key button:not(:first-child) {
  display: grid;
  padding: 3px;
}
.more {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
  padding-top: 4px;
}
</style>
