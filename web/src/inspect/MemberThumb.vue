<script setup lang="ts">
import { shallowRef, watch } from 'vue';
import type { PassPicture } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import ShownCanvas from '../picture/ShownCanvas.vue';

/** A member's own mask, small. */
const props = defineProps<{ layer: string; id: number }>();
const picture = usePicture();
const shown = shallowRef<PassPicture>();
const [width, height] = [44, 26];
let asked = 0;
watch(
  [() => props.layer, () => props.id, () => picture.opened],
  async ([layer, id]) => {
    const own = ++asked;
    shown.value = undefined;
    // What only flies past while the list is scrolled is not asked for.
    await new Promise((resolve) => setTimeout(resolve, 60));
    if (own !== asked) return;
    const found = await picture.thumbnail(layer, id, width, height);
    if (own === asked) shown.value = found;
  },
  { immediate: true },
);
</script>

<template>
  <ShownCanvas :shown="shown" class="thumb" />
</template>

<style scoped>
.thumb {
  width: 44px;
  height: 26px;
}
</style>
