<script setup lang="ts">
import { computed } from 'vue';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import { useView } from '../../shot/view.ts';
import { STAGE_TOOLS } from './tools/list.ts';
import { useKeyChoices } from '../keys/key-choices.ts';

/** What the pointer does in the picture, and how. */
const view = useView();

const { tip } = useKeyChoices();
const tools = computed(() =>
  STAGE_TOOLS.flatMap(({ name, choice }) =>
    choice
      ? [{ value: name, label: choice.label, icon: choice.icon, title: tip(choice.label, choice.key) }]
      : [],
  ),
);
/** While a colour or a value is taken from the picture, none of these. */
const options = computed(() => STAGE_TOOLS.find((t) => t.name === view.tool)?.options);
const chosen = computed({ get: () => view.tool, set: (tool) => (view.tool = tool) });
</script>

<template>
  <SegmentChoice v-model="chosen" icons label="What the pointer does" :options="tools" />
  <component :is="options" v-if="options" />
</template>
