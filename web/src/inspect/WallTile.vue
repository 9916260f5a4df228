<script setup lang="ts">
import type { WallPass } from '@zesty-crow/core/inspect';
import { computed, ref } from 'vue';
import type { PassPicture as Shown } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import PassPicture from './PassPicture.vue';
import { rangeText } from './range-text.ts';

/** One pass on the wall: its picture, what it is, and what it is for. */
const props = defineProps<{ pass: WallPass; ratio: number; bytes: number; why?: string | undefined }>();
defineEmits<{ open: [] }>();
const picture = usePicture();
const shown = ref<Shown>();
const facts = computed(() => {
  const parts = props.pass.share > 0 ? [props.pass.types, megabytes.value] : ['computed, in no file'];
  if (props.pass.display) parts.push('values for a screen');
  if (props.pass.name === 'picture' && picture.opened) parts.push(picture.opened.primaries);
  if (shown.value?.range) parts.push(rangeText(shown.value.range));
  return parts.join(' · ');
});
const megabytes = computed(() => {
  const mb = (props.pass.share * props.bytes) / 1e6;
  if (mb < 0.1) return `about ${Math.max(1, Math.round(1000 * mb))} kB`;
  return `about ${mb < 10 ? mb.toFixed(1) : Math.round(mb)} MB`;
});
</script>

<template>
  <figure>
    <button
      class="plain-button hang"
      type="button"
      :style="{ aspectRatio: String(ratio) }"
      :aria-label="`Look at ${pass.name}`"
      @click="$emit('open')"
    >
      <PassPicture :name="pass.name" :side="560" @shown="shown = $event" />
    </button>
    <figcaption>
      <p class="title">
        <strong class="cut" :title="pass.name">{{ pass.name === 'picture' ? 'Picture' : pass.name }}</strong>
        <span v-if="pass.name !== 'picture'" class="quiet cut">{{ pass.label }}</span>
      </p>
      <p>
        {{ pass.purpose }}
        <template v-if="why">Taken because {{ why }}.</template>
        <slot />
      </p>
      <p v-if="shown?.ranks">{{ shown.ranks }}</p>
      <p v-if="shown?.rankCounts" class="quiet">{{ shown.rankCounts }}</p>
      <p class="quiet">{{ facts }}</p>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-width: 0;
}
.hang {
  display: block;
  width: 100%;
  background: #3a3a3a;
}
.hang:hover {
  outline: 2px solid var(--on-room-quiet);
}
figcaption {
  padding: 7px 2px 0;
  color: var(--on-room);
  font-size: 13px;
}
p {
  margin: 0;
}
.title {
  display: flex;
  gap: 8px;
  font-size: 14px;
}
.quiet {
  color: var(--on-room-quiet);
}
</style>
