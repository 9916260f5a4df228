<script setup lang="ts">
import { ref, shallowRef, watch } from 'vue';
import type { PassPicture } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import ShownCanvas from '../picture/ShownCanvas.vue';
import { useShownMembers } from './shown-members.ts';

/**
 * A pass of the open frame as a picture; empty until it has been read. Over the picture itself all is darkened but the
 * members that are looked at in the cast.
 */
const props = defineProps<{ name: string; side: number; channel?: string | undefined }>();
const emit = defineEmits<{ shown: [picture: PassPicture | undefined] }>();
const picture = usePicture();
const members = useShownMembers();
const shown = shallowRef<PassPicture>();
const dimming = shallowRef<PassPicture>();
const failed = ref(false);

let asked = 0;
watch(
  [() => picture.opened, () => props.name, () => props.side, () => props.channel],
  async () => {
    if (!picture.opened) return;
    const own = ++asked;
    const found = await picture.pass(props.name, props.side, props.channel);
    if (own !== asked) return;
    shown.value = found;
    failed.value = !found;
    emit('shown', found);
  },
  { immediate: true },
);
let dimmed = 0;
watch(
  [() => members.layer, () => members.ids, () => props.side],
  async ([layer, ids]) => {
    const own = ++dimmed;
    const wanted = props.name === 'picture' && layer !== undefined && ids.length > 0;
    const found = wanted ? await picture.dimming(layer, [...ids], Math.min(1200, props.side)) : undefined;
    if (own === dimmed) dimming.value = found;
  },
  { immediate: true },
);
</script>

<template>
  <span class="sheet" :data-failed="failed || undefined">
    <ShownCanvas :shown="shown" class="whole" />
    <ShownCanvas v-if="dimming" :shown="dimming" class="whole dimming" />
  </span>
</template>

<style scoped>
.sheet {
  display: block;
  position: relative;
  width: 100%;
  height: 100%;
}
.whole {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.dimming {
  position: absolute;
  inset: 0;
}
</style>
