<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup } from 'element-plus';
import { WARNINGS } from '@zesty-crow/core/scopes';
import { usePicture } from '../../picture/picture.ts';
import { useView } from '../../shot/view.ts';

/** Which pixels are marked with stripes, and how many there are. */
const view = useView();
const picture = usePicture();
const counted = (name: string) =>
  view.warnings.includes(name) ? picture.warnings[name]?.toLocaleString('en') : undefined;
</script>

<template>
  <details :open="view.warnings.length > 0">
    <summary>Warnings{{ view.warnings.length ? `: ${view.warnings.length} marked` : '' }}</summary>
    <ElCheckboxGroup v-model="view.warnings" class="rows" aria-label="Warnings">
      <div v-for="w in WARNINGS" :key="w.name">
        <ElCheckbox :value="w.name" size="small">
          {{ w.label }}<template v-if="counted(w.name) !== undefined">: {{ counted(w.name) }} px</template>
        </ElCheckbox>
        <p>{{ w.hint }}</p>
      </div>
    </ElCheckboxGroup>
  </details>
</template>

<style scoped>
summary {
  padding: 3px 0;
  cursor: pointer;
}
.rows {
  display: grid;
  gap: 4px;
}
p {
  margin: 0 0 4px 22px;
  font-size: 13px;
  line-height: 1.35;
}
</style>
