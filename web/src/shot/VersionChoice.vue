<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import type { Version } from '@zesty-crow/server/contract';

/** Which version of the shot is open, and another one to be opened. */
defineProps<{ version: Version | undefined; ready: readonly Version[] }>();
defineEmits<{ open: [version: Version] }>();

const label = (v: Version) =>
  `v${v.number}, ${v.unfinished ? 'unfinished' : v.source === 'render' ? 'rendered' : 'imported'}`;
</script>

<template>
  <ElSelect
    v-if="version"
    :model-value="version.id"
    size="small"
    class="versions"
    aria-label="Version"
    @update:model-value="
      (id: string) =>
        $emit(
          'open',
          ready.find((v) => v.id === id)!,
        )
    "
  >
    <ElOption v-for="v in ready" :key="v.id" :value="v.id" :label="label(v)" />
  </ElSelect>
</template>

<style scoped>
.versions {
  flex: 0 1 128px;
  min-width: 64px;
}
</style>
