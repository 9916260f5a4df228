<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { useChanges } from '../../shot/changes/changes.ts';

/** Which variant is worked on, in the bar: it stays in sight while values are set. */
const changes = useChanges();
/** The choice of no variant; an empty one would be shown as nothing chosen. */
const BASE = 'list';
</script>

<template>
  <ElSelect
    v-if="changes.list.variants.length"
    :model-value="changes.variant?.id ?? BASE"
    size="small"
    class="variants"
    :class="{ on: changes.variant }"
    aria-label="Variant"
    :title="
      changes.variant
        ? 'Values that are set now go into this variant only'
        : 'Values that are set now hold for all variants that do not set them'
    "
    @update:model-value="changes.variantId = $event === BASE ? undefined : ($event as string)"
  >
    <ElOption :value="BASE" label="The list itself" />
    <ElOption v-for="v in changes.list.variants" :key="v.id" :value="v.id" :label="v.name" />
  </ElSelect>
</template>

<style scoped>
.variants {
  flex: 0 1 132px;
  min-width: 74px;
}
.variants.on :deep(.el-select__wrapper) {
  background: var(--lemon);
}
</style>
