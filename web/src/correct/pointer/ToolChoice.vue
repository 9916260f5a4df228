<script setup lang="ts">
import { Brush, Lasso, MousePointerClick, SquareDashed } from '@lucide/vue';
import { computed } from 'vue';
import SegmentChoice from '../../fields/SegmentChoice.vue';
import { useLook, type ToolName } from '../../shot/look.ts';
import { useKeyChoices } from '../keys/key-choices.ts';

/** What the pointer does in the picture, and how. */
const view = useLook();

const TOOLS: { tool: ToolName; label: string; key: string; icon: typeof Brush }[] = [
  { tool: 'pick', label: 'Click and sweep', key: 'C', icon: MousePointerClick },
  { tool: 'lasso', label: 'Draw around', key: 'D', icon: Lasso },
  { tool: 'box', label: 'Box', key: 'R', icon: SquareDashed },
  { tool: 'brush', label: 'Brush on the mask', key: 'K', icon: Brush },
];
const ENCLOSED = [
  { value: 'inside', label: 'Whole', title: 'What lies whole within the line' },
  { value: 'touched', label: 'Touched', title: 'All that the line touches' },
] as const;
const { tip } = useKeyChoices();
const tools = computed(() =>
  TOOLS.map(({ tool, label, key, icon }) => ({ value: tool, label, icon, title: tip(label, key) })),
);
/** While a colour or a value is taken from the picture, none of these. */
const chosen = computed({ get: () => view.tool, set: (tool) => (view.tool = tool) });
</script>

<template>
  <SegmentChoice v-model="chosen" icons label="What the pointer does" :options="tools" />
  <SegmentChoice
    v-if="view.tool === 'lasso' || view.tool === 'box'"
    v-model="view.enclosed"
    label="What is taken"
    :options="ENCLOSED"
  />
</template>
