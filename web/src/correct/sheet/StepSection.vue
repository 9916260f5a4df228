<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { Ellipsis } from '@lucide/vue';
import { computed, onScopeDispose, ref, watch } from 'vue';
import AddStep from './AddStep.vue';
import { correctionOf } from '@zesty-crow/core/corrections';
import { useSortable } from '../use-sortable.ts';
import { stepsIn, useChanges, type Owner } from '../../shot/changes/changes.ts';
import { notifyError } from '../../server/notify.ts';
import { useLook } from '../../shot/look.ts';
import { keepPreset } from './presets.ts';
import StepCard from './StepCard.vue';
import { STEP_LISTS, type StepListName } from '../../shot/changes/step-kinds.ts';

/** One list of steps of the open change: edge steps, or corrections. Each folds to a line. */
const props = defineProps<{ change: Owner; list: StepListName }>();
const changes = useChanges();
const own = STEP_LISTS[props.list];
const steps = computed(() => stepsIn(props.change, props.list));

/** The step that is unfolded; the others are a line each. */
const unfolded = ref<string>();
// A step that has just been added is what is worked on; a change that is opened shows its only step.
watch(
  () => [props.change.id, steps.value.map((s) => s.id)] as const,
  ([id, ids], last) => {
    const added = last?.[0] === id ? ids.filter((s) => !last[1].includes(s)) : [];
    if (added.length === 1) unfolded.value = added[0];
    else if (last?.[0] !== id) unfolded.value = ids.length === 1 ? ids[0] : undefined;
  },
  { immediate: true },
);

// A shape is shown in the picture while its line is unfolded.
const view = useLook();
const placed = computed(() => {
  const use = steps.value.find((s) => s.id === unfolded.value);
  const inPicture = props.list === 'fence' || (use && correctionOf(use.kind)?.placement !== undefined);
  return use && inPicture ? use.id : undefined;
});
watch(
  placed,
  (id, last) => {
    if (id !== undefined || view.fenceShape === last) view.fenceShape = id;
  },
  { immediate: true },
);
onScopeDispose(() => {
  if (placed.value !== undefined && view.fenceShape === placed.value) view.fenceShape = undefined;
});

/** Changes to which all of it can be copied. */
const others = computed(() =>
  steps.value.length ? changes.list.changes.filter((c) => c.id !== props.change.id) : [],
);

/** Corrections can be kept, to be used again elsewhere. */
const keeps = props.list === 'corrections';
function command(to: string): void {
  if (to !== '') changes.copySteps(props.change, props.list, to);
  else void keepPreset(steps.value, props.change.words).catch(notifyError);
}

const element = ref<HTMLElement>();
useSortable(element, (from, to) => changes.moveStep(props.change, props.list, from, to));
</script>

<template>
  <section :aria-label="own.title">
    <div class="heading">
      <h3 class="paper-heading">{{ own.title }}</h3>
      <ElDropdown
        v-if="others.length || (keeps && steps.length)"
        trigger="click"
        :persistent="false"
        @command="command"
      >
        <button class="plain-button more" type="button" :aria-label="`More for ${own.title.toLowerCase()}`">
          <Ellipsis :size="16" />
        </button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem v-if="keeps" command="">Keep all as a preset…</ElDropdownItem>
            <ElDropdownItem v-for="(c, i) in others" :key="c.id" :command="c.id" :divided="keeps && i === 0">
              <span class="long">Copy all to “{{ c.words || 'New change' }}”</span>
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </div>
    <p v-if="steps.length === 0" class="paper-hint">{{ own.empty }}</p>
    <ol ref="element">
      <StepCard
        v-for="(use, at) in steps"
        :key="use.id"
        :change="change"
        :list="own"
        :use="use"
        :at="at"
        :unfolded="unfolded === use.id"
        @flip="unfolded = unfolded === use.id ? undefined : use.id"
      />
    </ol>
    <AddStep
      :list="own"
      :change="change"
      @add="changes.addStep(change, list, $event)"
      @add-all="(all, name) => changes.addPreset(change, all, name)"
    />
    <slot />
  </section>
</template>

<style scoped>
.heading {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.more {
  display: grid;
  color: #8b887d;
}
.long {
  display: block;
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
}
ol {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
</style>
