<script setup lang="ts">
import { ElButton } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import type { PictureValue } from '@zesty-crow/core/fields';

/** A picture file that is chosen from the disk; who uses it keeps it. */
defineProps<{ modelValue: PictureValue | undefined; sending: boolean }>();
const emit = defineEmits<{ file: [file: File] }>();
const { open, onChange } = useFileDialog({
  accept: '.png,.jpg,.jpeg,.tif,.tiff,.exr',
  multiple: false,
  reset: true,
});
onChange((files) => {
  const file = files?.[0];
  if (file) emit('file', file);
});
</script>

<template>
  <div class="file">
    <ElButton size="small" :loading="sending" @click="open()">Choose a picture…</ElButton>
    <span v-if="modelValue?.name" class="cut" :title="modelValue.name">{{ modelValue.name }}</span>
  </div>
</template>

<style scoped>
.file {
  display: grid;
  gap: 2px;
  min-width: 0;
}
</style>
