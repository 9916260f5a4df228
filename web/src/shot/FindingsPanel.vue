<script setup lang="ts">
import { CircleAlert, Info, TriangleAlert } from '@lucide/vue';
import type { Finding, Remedy } from '@zesty-crow/core/findings';
import { computed } from 'vue';
import FoldPanel from './FoldPanel.vue';

/** What was found in the files of the version, beside the picture and never over it. */
const props = defineProps<{
  findings: readonly Finding[];
  opened?: boolean;
  /** True where places can be shown and remedies be taken. */
  acts?: boolean;
}>();
defineEmits<{ show: [finding: Finding]; mend: [remedy: Remedy] }>();
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
  <FoldPanel
    v-if="findings.length"
    class="findings"
    title="Findings"
    :summary="summary"
    :opened="opened"
    :memory="opened ? undefined : 'findings'"
  >
    <template #icon>
      <component :is="ICONS[sorted[0]!.severity]" :size="15" :class="sorted[0]!.severity" />
    </template>
    <ul class="scroll" tabindex="0">
      <li v-for="f in sorted" :key="f.code + f.message" :data-code="f.code">
        <component :is="ICONS[f.severity]" :size="15" :class="f.severity" :aria-label="f.severity" />
        <span
          >{{ f.message }}
          <template v-if="acts">
            <button v-if="f.places?.length" class="plain-button" type="button" @click="$emit('show', f)">
              Show where
            </button>
            <button v-if="f.remedy" class="plain-button" type="button" @click="$emit('mend', f.remedy)">
              {{ f.remedy.label }}
            </button>
          </template>
        </span>
      </li>
    </ul>
  </FoldPanel>
</template>

<style scoped>
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
li button {
  margin-right: 8px;
  text-decoration: underline;
  font-weight: 600;
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
