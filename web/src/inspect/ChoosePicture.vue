<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import type { PictureChoice } from '@zesty-crow/core/version';
import { ref } from 'vue';
import PassPicture from './PassPicture.vue';

/** Which layer is the picture: one, or several that are added up. */
const props = defineProps<{
  layers: readonly string[];
  choice: PictureChoice;
  ratio: number;
  byHand: boolean;
}>();
const emit = defineEmits<{ choose: [layers: string[] | undefined]; close: [] }>();
const chosen = ref([...props.choice.layers]);

/** The picture's own layer hangs on the wall under that name. */
const passOf = (layer: string) =>
  props.choice.layers.length === 1 && props.choice.layers[0] === layer ? 'picture' : layer;
function flip(layer: string): void {
  chosen.value = chosen.value.includes(layer)
    ? chosen.value.filter((l) => l !== layer)
    : [...chosen.value, layer];
}
</script>

<template>
  <ElDialog
    :model-value="true"
    title="What is the picture?"
    width="min(860px, 94vw)"
    top="8vh"
    @close="emit('close')"
  >
    <p>Choose the finished render. Several parts of the light are added up.</p>
    <div class="layers scroll">
      <label v-for="layer in layers" :key="layer" :class="{ chosen: chosen.includes(layer) }">
        <span class="hang" :style="{ aspectRatio: String(ratio) }">
          <PassPicture :name="passOf(layer)" :side="260" />
        </span>
        <span class="name"
          ><input type="checkbox" :checked="chosen.includes(layer)" @change="flip(layer)" />
          <span class="cut" :title="layer">{{
            layer === 'RGBA' ? 'R, G, B without a layer' : layer
          }}</span></span
        >
      </label>
    </div>
    <template #footer>
      <ElButton v-if="byHand" @click="emit('choose', undefined)">Find it by the rules</ElButton>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="chosen.length === 0" @click="emit('choose', chosen)">{{
        chosen.length > 1 ? `Add up ${chosen.length} layers` : 'Use this layer'
      }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
.layers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 12px;
  max-height: 56vh;
}
.hang {
  display: block;
  background: #3a3a3a;
}
label {
  padding: 5px;
  border: 2px solid transparent;
}
label.chosen {
  border-color: var(--ink);
}
.name {
  display: flex;
  gap: 6px;
  padding-top: 4px;
}
</style>
