<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { onKeyStroke, useThrottleFn } from '@vueuse/core';
import { Plus, X } from '@lucide/vue';
import { MASK_LAYER, type ChannelMask } from '@zesty-crow/core/version';
import { computed, reactive, shallowRef, watch } from 'vue';
import type { PassPicture } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import ShownCanvas from '../picture/ShownCanvas.vue';

/** A mask made of channels: their sum between two values. It is picked from like an object. */
const props = defineProps<{ mask: ChannelMask; known: readonly ChannelMask[] }>();
const emit = defineEmits<{
  keep: [mask: ChannelMask];
  remove: [name: string];
  save: [];
  open: [name: string];
  close: [];
}>();
const picture = usePicture();
const own = reactive<ChannelMask>(JSON.parse(JSON.stringify(props.mask)) as ChannelMask);
const shown = shallowRef<PassPicture>();
/** No masks of masks. */
const channels = computed(() =>
  (picture.opened?.channels ?? []).filter((c) => !c.startsWith(`${MASK_LAYER}.`)),
);
const taken = computed(
  () => own.name !== props.mask.name && props.known.some((m) => m.name === own.name.trim()),
);
const isKnown = computed(() => props.known.some((m) => m.name === props.mask.name));

const look = useThrottleFn(
  async () => (shown.value = await picture.channelMask(JSON.parse(JSON.stringify(own)) as ChannelMask, 1400)),
  60,
  true,
);
watch([own, () => picture.opened], () => void look(), { immediate: true, deep: true });
const keep = () =>
  emit('keep', { ...(JSON.parse(JSON.stringify(own)) as ChannelMask), name: own.name.trim() });
onKeyStroke('Escape', () => emit('close'));
</script>

<template>
  <section class="maker" aria-label="Mask of channels">
    <form class="paper scroll" novalidate @submit.prevent="keep">
      <h2>Mask of channels</h2>
      <label
        >Name <ElInput v-model="own.name" size="small" maxlength="200" aria-label="Name of the mask"
      /></label>
      <fieldset>
        <legend>Channels, each times a factor, added up</legend>
        <div v-for="(c, i) in own.channels" :key="i" class="channel">
          <ElSelect v-model="c.channel" size="small" filterable :aria-label="`Channel ${i + 1}`">
            <ElOption v-for="name in channels" :key="name" :value="name" :label="name" />
          </ElSelect>
          <ElInputNumber
            v-model="c.times"
            size="small"
            :controls="false"
            :aria-label="`Factor of channel ${i + 1}`"
          />
          <button
            class="plain-button"
            type="button"
            :disabled="own.channels.length === 1"
            :aria-label="`Remove channel ${i + 1}`"
            @click="own.channels.splice(i, 1)"
          >
            <X :size="14" />
          </button>
        </div>
        <ElButton
          size="small"
          :icon="Plus"
          :disabled="own.channels.length >= 16"
          @click="own.channels.push({ channel: channels[0] ?? '', times: 1 })"
          >Add a channel</ElButton
        >
      </fieldset>
      <label
        >Nothing at <ElInputNumber v-model="own.from" size="small" :controls="false" aria-label="Nothing at"
      /></label>
      <label
        >All at <ElInputNumber v-model="own.to" size="small" :controls="false" aria-label="All at"
      /></label>
      <ElButton size="small" @click="[own.from, own.to] = [own.to, own.from]">Invert</ElButton>
      <p v-if="taken" class="alarm">There is a mask of this name. Choose another one.</p>
      <div class="ends">
        <ElButton size="small" @click="emit('close')">Cancel</ElButton>
        <ElButton
          size="small"
          type="primary"
          native-type="submit"
          :disabled="own.name.trim() === '' || taken"
          >{{ isKnown ? 'Save mask' : 'Make mask' }}</ElButton
        >
      </div>
      <template v-if="known.length">
        <h3>Masks of this version</h3>
        <ul>
          <li v-for="m in known" :key="m.name">
            <button class="plain-button cut" type="button" @click="emit('open', m.name)">{{ m.name }}</button>
            <button
              class="plain-button"
              type="button"
              :aria-label="`Remove ${m.name}`"
              @click="emit('remove', m.name)"
            >
              <X :size="14" />
            </button>
          </li>
        </ul>
        <button
          class="plain-button save"
          type="button"
          title="For zesty-crow mask, apply and convert: --interpretation"
          @click="emit('save')"
        >
          Save for the command line
        </button>
      </template>
    </form>
    <div class="stage"><ShownCanvas :shown="shown" class="whole" /></div>
  </section>
</template>

<style scoped src="./maker.css"></style>
<style scoped>
label {
  display: grid;
  grid-template-columns: 90px 1fr;
  align-items: center;
  margin: 6px 0;
}
fieldset {
  margin: 10px 0;
  padding: 0;
  border: 0;
}
legend {
  padding: 0 0 4px;
  color: var(--ink-quiet);
  font-size: 13px;
}
.channel {
  display: grid;
  grid-template-columns: 1fr 64px 16px;
  align-items: center;
  gap: 6px;
  margin-bottom: 6px;
}
.channel :deep(.el-input-number),
label :deep(.el-input-number) {
  width: 100%;
}
.ends {
  display: flex;
  justify-content: flex-end;
  margin-top: 14px;
}
.alarm {
  color: var(--alarm);
}
li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 3px 0;
}
li .cut,
.save {
  text-decoration: underline;
}
</style>
