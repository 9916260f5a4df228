<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup, ElPopover } from 'element-plus';
import { computed } from 'vue';
import { WARNINGS } from '@zesty-crow/core/scopes';
import { usePicture } from '../../picture/picture.ts';
import { useLook } from '../../shot/look.ts';

/** Which pixels are marked with stripes, and how many there are. */
const view = useLook();
const picture = usePicture();
const counted = (name: string) =>
  view.warnings.includes(name) ? picture.warnings[name]?.toLocaleString('en') : undefined;
const all = computed(() => view.warnings.reduce((n, name) => n + (picture.warnings[name] ?? 0), 0));
</script>

<template>
  <ElPopover trigger="click" placement="bottom-end" :width="300">
    <template #reference>
      <button
        class="plain-button room-button"
        type="button"
        :class="{ on: view.warnings.length }"
        title="Mark pixels that may be wrong"
      >
        Warnings{{ view.warnings.length ? ` ${all.toLocaleString('en')}` : '' }}
      </button>
    </template>
    <ElCheckboxGroup v-model="view.warnings" class="rows" aria-label="Warnings">
      <div v-for="w in WARNINGS" :key="w.name">
        <ElCheckbox :value="w.name" size="small">
          {{ w.label }}<template v-if="counted(w.name) !== undefined">: {{ counted(w.name) }} px</template>
        </ElCheckbox>
        <p>{{ w.hint }}</p>
      </div>
    </ElCheckboxGroup>
  </ElPopover>
</template>

<style scoped>
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
