<script setup lang="ts">
import { computed } from 'vue';
import type { StepUse } from '@zesty-crow/core/changes';
import type { Field } from '@zesty-crow/core/fields';
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';

/** What the variant that is worked on sets itself of a step, and the way back to the list's values. */
const props = defineProps<{ change: Owner; use: StepUse; fields: readonly Field[] }>();
const changes = useChanges();

const set = computed(() =>
  changes.variant?.sets.find((s) => s.change === props.change.id && s.step === props.use.id),
);
const names = computed(() => [
  ...(set.value?.on === undefined ? [] : ['switch']),
  ...props.fields.filter((f) => set.value?.values?.[f.key] !== undefined).map((f) => f.label.toLowerCase()),
]);
</script>

<template>
  <p v-if="set" class="paper-hint">
    Own to “{{ changes.variant!.name }}”: {{ names.join(', ') }}.
    <button class="plain-button" type="button" @click="changes.backToList(change, use.id)">
      As in the list
    </button>
  </p>
</template>

<style scoped>
p {
  margin: 2px 0 6px;
}
button {
  text-decoration: underline;
}
</style>
