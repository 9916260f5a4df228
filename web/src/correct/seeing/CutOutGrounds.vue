<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import type { CutOutGround } from '@zesty-crow/core';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useView } from '../../shot/view.ts';
import { bitmapOfFile } from '../../fields/file-pixels.ts';

/** What a cut-out lies on. */
const view = useView();
const picture = usePicture();

const GROUNDS: Record<CutOutGround, string> = {
  chequers: 'on chequers',
  black: 'on black',
  grey: 'on grey',
  white: 'on white',
  picture: 'on a picture…',
};

const { open, onChange } = useFileDialog({
  accept: 'image/png,image/jpeg,image/webp',
  multiple: false,
  reset: true,
});
onChange((files) => {
  const file = files?.[0];
  if (file) void lay(file).catch(notifyError);
});
/** Fills the frame with the picture, cut at the longer side. */
async function lay(file: File): Promise<void> {
  const { size } = picture;
  if (!size) return;
  const bitmap = await bitmapOfFile(file);
  const scale = Math.max(size.width / bitmap.width, size.height / bitmap.height);
  const [w, h] = [bitmap.width * scale, bitmap.height * scale];
  const canvas = new OffscreenCanvas(size.width, size.height);
  const context = canvas.getContext('2d')!;
  context.drawImage(bitmap, (size.width - w) / 2, (size.height - h) / 2, w, h);
  await picture.layUnder(context.getImageData(0, 0, size.width, size.height).data);
  view.ground = 'picture';
}
function choose(ground: CutOutGround): void {
  if (ground === 'picture') open();
  else view.ground = ground;
}
</script>

<template>
  <ElSelect
    class="grounds"
    size="small"
    :model-value="view.ground"
    aria-label="What the cut-out lies on"
    @update:model-value="choose($event as CutOutGround)"
  >
    <ElOption v-for="(label, ground) in GROUNDS" :key="ground" :value="ground" :label="label" />
  </ElSelect>
</template>

<style scoped>
.grounds {
  width: 122px;
}
</style>
