<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect, ElSwitch } from 'element-plus';
import { computed, ref } from 'vue';
import { fileName, PIXEL_FILTERS, PLACEHOLDERS, WRITABLE_COMPRESSIONS } from '@zesty-crow/core';
import { usePlan } from '../shot/plan.ts';
import { api } from '../server/api.ts';
import { LENS_NUMBERS, PICTURE_NUMBERS, SURROUNDINGS_NUMBERS, TIME_NUMBERS } from './plan-number.ts';
import DoneWhenChoice from './DoneWhenChoice.vue';
import PlanNumberRow from './PlanNumberRow.vue';
import { notifyError } from '../server/notify.ts';

const props = defineProps<{ shotName: string; version: number; idsOnly: boolean }>();
const plan = usePlan();

const chooser = ref<HTMLInputElement>();
const pictures = computed(() => [
  ...new Set((plan.scene?.files ?? []).flatMap((f) => (/\.exr$/i.test(f.name) ? [f.name] : []))),
]);
async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = '';
  const id = plan.shotId;
  if (!file || !id) return;
  try {
    await api.uploadScene(id, file, new AbortController().signal, () => undefined);
    await plan.loadScene(id);
    plan.plan.render.surroundings = file.name;
    commit('Surroundings');
  } catch (error) {
    notifyError(error);
  }
}
/** Filters that are called after people are written like them. */
const filterName = (f: string) => f.replace(/(^|-)\w/g, (c) => c.toUpperCase());
const ownLens = computed({
  get: () => plan.plan.render.lensRadius >= 0,
  set(on) {
    plan.plan.render.lensRadius = on ? 0 : -1;
    void plan.commit(on ? 'Lens of its own' : 'Lens of the camera');
  },
});
const names = computed(() => {
  const { output, render } = plan.plan;
  const layers = props.idsOnly
    ? (['ids'] as const)
    : output.idsApart
      ? (['picture', 'ids'] as const)
      : (['all'] as const);
  const frames = render.last > render.first ? [render.first, render.last] : [render.first];
  const camera = render.camera || (plan.outline?.cameras[0] ?? 'camera');
  return frames.map((frame) =>
    layers.map((l) => fileName(output, l, { shot: props.shotName, version: props.version, frame, camera })),
  );
});
const fault = computed(() => plan.errors.find((f) => f.code === 'output')?.message);
const commit = (label: string) => void plan.commit(label);
</script>

<template>
  <div class="settings">
    <DoneWhenChoice />
    <h3 class="paper-heading">Picture</h3>
    <PlanNumberRow v-for="n in PICTURE_NUMBERS" :key="n.key" :number="n" />
    <div class="field">
      <span>Pixel filter</span>
      <ElSelect
        v-model="plan.plan.render.filter"
        size="small"
        aria-label="Pixel filter"
        @change="commit('Pixel filter')"
      >
        <ElOption v-for="f in PIXEL_FILTERS" :key="f" :value="f" :label="filterName(f)" />
      </ElSelect>
    </div>
    <h3 class="paper-heading">Camera and time</h3>
    <div v-if="(plan.outline?.cameras.length ?? 0) > 1 || plan.plan.render.camera" class="field">
      <span>Camera</span>
      <ElSelect
        v-model="plan.plan.render.camera"
        size="small"
        aria-label="Camera"
        :empty-values="[null, undefined]"
        @change="commit('Camera')"
      >
        <ElOption value="" label="the first one" />
        <ElOption v-for="c in plan.outline!.cameras" :key="c" :value="c" :label="c" />
      </ElSelect>
    </div>
    <PlanNumberRow v-for="n in TIME_NUMBERS" :key="n.key" :number="n" />
    <div class="field">
      <span>Own lens</span>
      <ElSwitch v-model="ownLens" size="small" class="paper-switch" aria-label="Lens of its own" />
    </div>
    <template v-if="ownLens">
      <PlanNumberRow v-for="n in LENS_NUMBERS" :key="n.key" :number="n" />
    </template>
    <h3 class="paper-heading">Surroundings</h3>
    <div class="field">
      <span>Light from</span>
      <ElSelect
        v-model="plan.plan.render.surroundings"
        size="small"
        aria-label="Picture that lights the scene"
        :empty-values="[null, undefined]"
        @change="commit('Surroundings')"
      >
        <ElOption value="" label="the scene’s own sky" />
        <ElOption v-for="f in pictures" :key="f" :value="f" :label="f" />
      </ElSelect>
    </div>
    <ElButton size="small" text @click="chooser?.click()">Add a picture (.exr)…</ElButton>
    <input ref="chooser" type="file" accept=".exr" hidden @change="chosen" />
    <template v-if="plan.plan.render.surroundings">
      <PlanNumberRow v-for="n in SURROUNDINGS_NUMBERS" :key="n.key" :number="n" />
    </template>
    <h3 class="paper-heading">Output</h3>
    <ElInput
      v-model="plan.plan.output.pattern"
      size="small"
      aria-label="File name"
      @change="commit('File name')"
    >
      <template #append>.exr</template>
    </ElInput>
    <p class="paper-hint places">
      <span v-for="(meaning, key) in PLACEHOLDERS" :key="key" :title="meaning" v-text="'{' + key + '}'" />
    </p>
    <p v-if="fault" class="fault">{{ fault }}</p>
    <ul v-else class="names" aria-label="Resulting names">
      <template v-for="(group, i) in names" :key="i">
        <li v-if="i > 0" class="paper-hint">to</li>
        <li v-for="n in group" :key="n" class="cut" :title="n">{{ n }}</li>
      </template>
    </ul>
    <div class="field">
      <span>IDs in own file</span>
      <ElSwitch
        v-model="plan.plan.output.idsApart"
        size="small"
        class="paper-switch"
        aria-label="ID passes in a file of their own"
        @change="commit('File of the ID passes')"
      />
    </div>
    <div class="field">
      <span>Compression</span>
      <ElSelect
        v-model="plan.plan.output.compression"
        size="small"
        aria-label="Compression"
        @change="commit('Compression')"
      >
        <ElOption
          v-for="c in WRITABLE_COMPRESSIONS"
          :key="c"
          :value="c"
          :label="c === 'none' ? 'none' : `${c}, lossless`"
        />
      </ElSelect>
    </div>
  </div>
</template>

<style scoped>
.paper-heading {
  margin-top: 12px;
}
.field {
  display: grid;
  grid-template-columns: 88px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
.places {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  margin: 3px 0 4px;
  font-size: 13px;
}
.names {
  list-style: none;
  margin: 0 0 6px;
  padding: 4px 8px;
  background: var(--paper-bright);
  border: 1px solid var(--paper-line);
}
.names .paper-hint {
  margin: 0;
}
.fault {
  color: var(--alarm);
  margin: 2px 0 6px;
}
</style>
