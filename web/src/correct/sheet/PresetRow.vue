<script setup lang="ts">
import { Trash2 } from '@lucide/vue';
import { onMounted, shallowRef } from 'vue';
import { listedChanges, type Change, type ListedChange } from '@zesty-crow/core/changes';
import type { Preset } from '@zesty-crow/server/contract';
import ShownCanvas from '../../picture/ShownCanvas.vue';
import type { PassPicture } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { removePreset } from './presets.ts';

/** A preset with a small picture of what it would make of the part of a change. */
const props = defineProps<{ preset: Preset; change: Change }>();
defineEmits<{ choose: [] }>();
const picture = usePicture();
const changes = useChanges();
const SIDE = 56;
const shown = shallowRef<PassPicture>();

onMounted(async () => {
  const own = listedChanges(changes.list).find((c) => c.id === props.change.id);
  if (!own) return;
  const tried = { ...own, corrections: props.preset.corrections };
  shown.value = await picture.tried(JSON.parse(JSON.stringify(tried)) as ListedChange, SIDE);
});
</script>

<template>
  <div class="preset">
    <button class="plain-button" type="button" @click="$emit('choose')">
      <span class="room"><ShownCanvas :shown="shown" aria-hidden="true" /></span>
      <span class="cut"
        ><b>{{ preset.name }}</b
        ><small
          >{{ preset.corrections.length }} correction{{ preset.corrections.length === 1 ? '' : 's' }}</small
        ></span
      >
    </button>
    <button
      class="plain-button"
      type="button"
      :aria-label="`Delete the preset ${preset.name}`"
      @click="removePreset(preset.id)"
    >
      <Trash2 :size="14" :stroke-width="1.6" />
    </button>
  </div>
</template>

<style scoped>
.preset {
  display: flex;
  align-items: center;
}
.preset > :first-child {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 8px;
  min-width: 0;
  padding: 3px 8px;
  text-align: left;
}
.preset > :first-child:hover {
  background: var(--paper-shade);
}
.room {
  display: grid;
  flex: none;
  place-items: center;
  width: 58px;
  height: 58px;
  overflow: hidden;
  background: var(--room);
}
b {
  display: block;
  font-weight: 550;
}
small {
  color: var(--ink-quiet);
  font-size: 13px;
}
</style>
