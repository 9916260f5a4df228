<script setup lang="ts">
import { ElTooltip } from 'element-plus';
import { Brush, Lasso, MousePointerClick, SquareDashed } from '@lucide/vue';
import { useLook, type ToolName } from '../../shot/look.ts';

/** What the pointer does in the picture, and how. */
const view = useLook();

const TOOLS: { tool: ToolName; label: string; key: string; icon: typeof Brush }[] = [
  { tool: 'pick', label: 'Click and sweep', key: 'C', icon: MousePointerClick },
  { tool: 'lasso', label: 'Draw around', key: 'D', icon: Lasso },
  { tool: 'box', label: 'Box', key: 'R', icon: SquareDashed },
  { tool: 'brush', label: 'Brush on the mask', key: 'K', icon: Brush },
];
const ENCLOSED = { inside: 'Whole', touched: 'Touched' } as const;
</script>

<template>
  <div class="group" role="radiogroup" aria-label="What the pointer does">
    <ElTooltip v-for="t in TOOLS" :key="t.tool" :content="`${t.label} (key ${t.key})`" :show-after="500">
      <button
        class="plain-button room-button icon"
        type="button"
        role="radio"
        :class="{ on: view.tool === t.tool }"
        :aria-checked="view.tool === t.tool"
        :aria-label="t.label"
        @click="view.tool = t.tool"
      >
        <component :is="t.icon" :size="16" :stroke-width="1.6" />
      </button>
    </ElTooltip>
  </div>
  <div
    v-if="view.tool === 'lasso' || view.tool === 'box'"
    class="group"
    role="radiogroup"
    aria-label="What is taken"
  >
    <button
      v-for="(label, which) in ENCLOSED"
      :key="which"
      class="plain-button room-button"
      type="button"
      role="radio"
      :class="{ on: view.enclosed === which }"
      :aria-checked="view.enclosed === which"
      @click="view.enclosed = which"
    >
      {{ label }}
    </button>
  </div>
</template>

<style scoped>
.group {
  flex: none;
}
.icon {
  display: grid;
  padding-inline: 6px;
}
</style>
