<script setup lang="ts" generic="V extends string">
import { ref, type Component } from 'vue';

/**
 * One of a few, side by side: a radio group that moves by arrow keys. What has an icon is told by it where its container
 * is narrow.
 */
const props = defineProps<{
  label: string;
  options: readonly { value: V; label: string; title?: string; icon?: Component }[];
  modelValue: V | undefined;
  /** Icons alone, however much room there is. */
  icons?: boolean;
  /** On paper in place of the room. */
  paper?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [value: V] }>();
const group = ref<HTMLElement>();

function step(by: number): void {
  const at = props.options.findIndex((o) => o.value === props.modelValue);
  const next = (Math.max(0, at) + by + props.options.length) % props.options.length;
  emit('update:modelValue', props.options[next]!.value);
  group.value?.querySelectorAll('button')[next]?.focus();
}
/** One stop of the tab key: the chosen one, or the first where none is. */
const stops = (i: number) => {
  const at = props.options.findIndex((o) => o.value === props.modelValue);
  return i === Math.max(0, at) ? 0 : -1;
};
</script>

<template>
  <div
    ref="group"
    class="segments"
    :class="{ paper, icons }"
    role="radiogroup"
    :aria-label="label"
    @keydown.right.stop.prevent="step(1)"
    @keydown.down.stop.prevent="step(1)"
    @keydown.left.stop.prevent="step(-1)"
    @keydown.up.stop.prevent="step(-1)"
  >
    <button
      v-for="(o, i) in options"
      :key="o.value"
      class="plain-button"
      type="button"
      role="radio"
      :class="{ iconed: o.icon }"
      :aria-checked="modelValue === o.value"
      :aria-label="o.label"
      :title="o.title ?? o.label"
      :tabindex="stops(i)"
      @click="emit('update:modelValue', o.value)"
    >
      <component :is="o.icon" v-if="o.icon" class="icon" :size="16" :stroke-width="1.6" />
      <span class="words cut">{{ o.label }}</span>
    </button>
  </div>
</template>

<style scoped>
.segments {
  display: flex;
  min-width: 0;
}
button {
  min-width: 26px;
  min-height: 26px;
  padding: 2px 8px;
  color: var(--on-room);
}
button:hover {
  background: var(--room);
}
button[aria-checked='true'] {
  background: var(--crow-soft);
  color: #fff;
}
.icon {
  display: none;
  margin: auto;
}
.icons .icon {
  display: block;
}
.icons .iconed .words {
  display: none;
}
@container (max-width: 630px) {
  .iconed .icon {
    display: block;
  }
  .iconed .words {
    display: none;
  }
  .iconed {
    padding: 2px 6px;
  }
}
.paper button {
  padding: 2px 10px;
  border: 1px solid var(--paper-line);
  color: var(--ink);
}
.paper button:hover {
  background: var(--paper-shade);
}
.paper button[aria-checked='true'] {
  background: var(--ink);
  color: var(--paper);
}
</style>
