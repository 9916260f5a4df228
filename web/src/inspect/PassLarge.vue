<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { onKeyStroke, useElementSize } from '@vueuse/core';
import { ArrowLeft, SquareSplitHorizontal, X } from '@lucide/vue';
import type { WallPass } from '@zesty-crow/core/inspect';
import type { Area } from '@zesty-crow/core/planes';
import { zoomIdentity, type ZoomTransform } from 'd3-zoom';
import { computed, ref, shallowRef } from 'vue';
import { usePicture } from '../picture/picture.ts';
import PassPane from './PassPane.vue';

/** One pass as large as there is room, or two beside each other at the same place of the picture. */
const props = defineProps<{
  pass: WallPass;
  wall: readonly WallPass[];
  places?: readonly Area[] | undefined;
}>();
const emit = defineEmits<{
  close: [];
  /** Of an ID layer: begin a change with it. */
  pick: [];
  mask: [channel: string];
  encoding: [layer: string, display: boolean];
}>();
const picture = usePicture();
const second = ref<string>();
const beside = computed(() => props.wall.find((p) => p.name === second.value));
const others = computed(() => props.wall.filter((p) => p.name !== props.pass.name));
const place = shallowRef<ZoomTransform>(zoomIdentity);
const at = ref<{ x: number; y: number }>();
const channel = ref<string>();
const panes = ref<HTMLElement>();
const { width, height } = useElementSize(panes);
/** Two of them stand above each other where that makes them larger; bars take some of the height. */
const stacked = computed(() => {
  const size = picture.size ?? { width: 16, height: 9 };
  const BARS = 70;
  const beside = Math.min(width.value / 2 / size.width, (height.value - BARS) / size.height);
  return Math.min(width.value / size.width, (height.value / 2 - BARS) / size.height) > beside;
});
const title = (p: WallPass) => (p.name === 'picture' ? 'Picture' : p.name);
/** Only of colours it makes a difference. */
const canBeEncoded = computed(() => props.pass.shownAs === 'light' && props.pass.layer !== 'added up');

onKeyStroke('Escape', () => emit('close'));
onKeyStroke('f', () => (place.value = zoomIdentity));
</script>

<template>
  <section class="large" :aria-label="pass.name">
    <header class="room-bar">
      <button class="plain-button back" type="button" title="Back to the wall (Esc)" @click="emit('close')">
        <ArrowLeft :size="16" /> All passes
      </button>
      <button
        v-if="!beside && others.length"
        class="plain-button back"
        type="button"
        title="Look at another pass beside this one"
        @click="second = others[0]!.name"
      >
        <SquareSplitHorizontal :size="15" /> Beside
      </button>
      <button
        v-if="pass.shownAs === 'ids'"
        class="plain-button"
        type="button"
        title="Begin a change, and pick from this layer in the picture"
        @click="emit('pick')"
      >
        Pick from it
      </button>
      <button
        class="plain-button"
        type="button"
        title="Make a mask of this channel, or of several"
        @click="emit('mask', channel ?? pass.channels[0]!)"
      >
        Make a mask…
      </button>
      <ElSelect
        v-if="canBeEncoded"
        :model-value="pass.display"
        size="small"
        class="encoding"
        aria-label="What its values are"
        @update:model-value="(display: boolean) => emit('encoding', pass.layer, display)"
      >
        <ElOption :value="false" label="values are light" />
        <ElOption :value="true" label="values are for a screen" />
      </ElSelect>
      <span class="space" />
      <button class="plain-button" type="button" title="Show all of it (F)" @click="place = zoomIdentity">
        Fit
      </button>
    </header>
    <div ref="panes" class="panes" :class="{ stacked }">
      <PassPane
        v-model:channel="channel"
        v-model:at="at"
        :pass="pass"
        :place="place"
        :places="places"
        @move="place = $event"
      >
        <strong class="cut">{{ title(pass) }}</strong>
      </PassPane>
      <PassPane
        v-if="beside"
        v-model:at="at"
        :pass="beside"
        :place="place"
        :places="places"
        @move="place = $event"
      >
        <ElSelect v-model="second" size="small" class="choice" aria-label="Pass beside it">
          <ElOption v-for="p in others" :key="p.name" :value="p.name" :label="title(p)" />
        </ElSelect>
        <button
          class="plain-button"
          type="button"
          aria-label="Only one pass"
          title="Only one pass"
          @click="second = undefined"
        >
          <X :size="15" />
        </button>
      </PassPane>
    </div>
  </section>
</template>

<style scoped>
.large {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.back {
  display: flex;
  align-items: center;
  gap: 5px;
}
.panes {
  display: flex;
  flex: 1;
  gap: 2px;
  min-height: 0;
}
.panes.stacked {
  flex-direction: column;
}
.choice {
  width: 160px;
  flex: none;
}
.encoding {
  width: 176px;
  flex: none;
}
.space {
  flex: 1;
}
</style>
