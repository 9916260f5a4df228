<script setup lang="ts">
import { ChevronDown, ChevronRight, CircleAlert, Info, TriangleAlert } from '@lucide/vue';
import type { Finding } from '@zesty-crow/core/findings';
import { computed, ref } from 'vue';

/** What was found in the files of the version, beside the picture and never over it. */
const props = defineProps<{ findings: readonly Finding[]; opened?: boolean }>();
const open = ref(props.opened);
const ICONS = { error: CircleAlert, warning: TriangleAlert, info: Info } as const;
const WEIGHT = { error: 0, warning: 1, info: 2 } as const;
const sorted = computed(() => [...props.findings].sort((a, b) => WEIGHT[a.severity] - WEIGHT[b.severity]));
const count = (severity: Finding['severity']) => props.findings.filter((f) => f.severity === severity).length;
const summary = computed(() =>
  [
    [count('error'), 'error'],
    [count('warning'), 'warning'],
    [count('info'), 'note'],
  ]
    .flatMap(([n, word]) => (n ? [`${n} ${word}${n === 1 ? '' : 's'}`] : []))
    .join(', '),
);
</script>

<template>
  <section v-if="findings.length" class="findings" aria-label="Findings">
    <button class="plain-button head" type="button" :aria-expanded="open" @click="open = !open">
      <component :is="open ? ChevronDown : ChevronRight" :size="14" />
      <component :is="ICONS[sorted[0]!.severity]" :size="15" :class="sorted[0]!.severity" />
      <span>Findings</span><span class="summary cut">{{ summary }}</span>
    </button>
    <ul v-if="open" class="scroll" tabindex="0">
      <li v-for="f in sorted" :key="f.code + f.message" :data-code="f.code">
        <component :is="ICONS[f.severity]" :size="15" :class="f.severity" :aria-label="f.severity" />
        <span>{{ f.message }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.findings {
  flex: none;
  border-top: 1px solid var(--room-line);
  background: var(--room-deep);
  color: var(--on-room);
}
.head {
  display: flex;
  align-items: center;
  gap: 6px;
  width: 100%;
  padding: 7px 10px;
  text-align: left;
}
.head svg {
  flex: none;
}
.summary {
  color: var(--on-room-quiet);
  font-size: 13px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0 10px 8px;
  max-height: 34vh;
}
li {
  display: grid;
  grid-template-columns: 15px 1fr;
  gap: 7px;
  padding: 4px 0;
  font-size: 13px;
}
li svg {
  margin-top: 1px;
}
.error {
  color: #ffc9c2;
}
.warning {
  color: var(--lemon);
}
</style>
