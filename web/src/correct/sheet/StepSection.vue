<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { Ellipsis } from '@lucide/vue';
import { computed, onScopeDispose, ref, watch } from 'vue';
import AddStep from './AddStep.vue';
import { correctionOf } from '@zesty-crow/core/corrections';
import { useSortable } from '../use-sortable.ts';
import { stepsIn, type Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import { notifyError } from '../../server/notify.ts';
import { useView } from '../../shot/view.ts';
import { keepPreset } from './presets.ts';
import { useStepsOpen } from './parts-open.ts';
import StepCard from './StepCard.vue';
import type { StepKey } from '@zesty-crow/core/changes';
import { STEP_LISTS } from '../../shot/changes/step-kinds.ts';

/** One list of steps of the open change: edge steps, or corrections. Each folds to a line. */
const props = defineProps<{ change: Owner; list: StepKey }>();
const changes = useChanges();
const own = STEP_LISTS[props.list];
const steps = computed(() => stepsIn(props.change, props.list));

/** Steps that are unfolded; the others are a line each. */
const stepsOpen = useStepsOpen();
// A step that has just been added is what is worked on; a change that is opened shows its only step.
watch(
  () => [props.change.id, steps.value.map((s) => s.id)] as const,
  ([id, ids], last) => {
    const added = last?.[0] === id ? ids.filter((s) => !last[1].includes(s)) : [];
    if (added.length === 1) stepsOpen.open(added[0]!);
    else if (last?.[0] !== id && ids.length === 1) stepsOpen.open(ids[0]!);
  },
  { immediate: true },
);

// A shape is shown in the picture while its line is unfolded; of several the one that was unfolded last.
const view = useView();
const placed = computed(() =>
  stepsOpen.ids.value.findLast((id) => {
    const use = steps.value.find((s) => s.id === id);
    return use && (props.list === 'fence' || correctionOf(use.kind)?.placement !== undefined);
  }),
);
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
  if (to !== '') changes.copySteps(steps.value, props.list, to);
  else void keepPreset(steps.value, props.change.words).catch(notifyError);
}

const element = ref<HTMLElement>();
useSortable(element, (from, to) => changes.moveStep(props.change, props.list, from, to));
</script>

<template>
  <section :aria-label="own.title" :class="{ whole: keeps }">
    <div v-if="keeps || steps.length" class="heading">
      <h3 class="paper-heading cut">{{ own.title }}</h3>
      <AddStep
        :list="own"
        :change="change"
        @add="changes.addStep(change, list, $event)"
        @add-all="(all, name) => changes.addPreset(change, all, name)"
      />
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
    <ol ref="element">
      <StepCard
        v-for="(use, at) in steps"
        :key="use.id"
        :change="change"
        :list="own"
        :use="use"
        :at="at"
        :unfolded="stepsOpen.isOpen(use.id)"
        @flip="stepsOpen.flip(use.id)"
      />
    </ol>
    <slot />
  </section>
</template>

<style scoped>
.heading {
  container-type: inline-size;
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 28px;
}
h3 {
  flex: 1 1 0;
  min-width: 0;
  margin: 0;
}
.heading > :deep(.el-button) {
  flex: none;
}
/* Where both have no room the button says it. */
@container (max-width: 244px) {
  h3 {
    visibility: hidden;
  }
}
.more {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  color: var(--ink-quiet);
}
.long {
  display: block;
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
}
ol {
  list-style: none;
  margin: 0 0 4px;
  padding: 0;
}
</style>
