<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect, ElSwitch } from 'element-plus';
import { computed, ref } from 'vue';
import {
  DEFAULT_RENDER,
  fileName,
  PIXEL_FILTERS,
  PLACEHOLDERS,
  WRITABLE_COMPRESSIONS,
  type RenderPlan,
} from '@zesty-crow/core';
import { usePlan } from '../prepare/plan.ts';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';

const props = defineProps<{ shotName: string; nextVersion: number; idsOnly: boolean }>();
const plan = usePlan();

type NumberKey = { [K in keyof RenderPlan]: RenderPlan[K] extends number ? K : never }[keyof RenderPlan];
const FIELDS: {
  key: NumberKey;
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  hint?: string;
  /** Shown as a percentage. */
  percent?: boolean;
}[] = [
  { key: 'width', label: 'Width', unit: 'px', min: 16, max: 16384, step: 1 },
  { key: 'height', label: 'Height', unit: 'px', min: 16, max: 16384, step: 1 },
  { key: 'samples', label: 'Samples', unit: 'a pixel', min: 1, max: 65536, step: 1 },
  {
    key: 'noise',
    label: 'Noise to reach',
    unit: '%',
    min: 0,
    max: 100,
    step: 0.5,
    percent: true,
    hint: 'Sampling ends where the picture is this clean; 0 takes all samples',
  },
  {
    key: 'maskStep',
    label: 'Mask step',
    unit: '%',
    min: 0,
    max: 100,
    step: 0.1,
    percent: true,
    hint: 'Ends when no mask changes by more than this any more; 0 takes all samples',
  },
  { key: 'bounces', label: 'Bounces', unit: 'of light', min: 0, max: 16, step: 1 },
  {
    key: 'seed',
    label: 'Seed',
    unit: '',
    min: 0,
    max: 2 ** 31 - 1,
    step: 1,
    hint: 'The same seed gives the same samples',
  },
];
const TIME: typeof FIELDS = [
  { key: 'first', label: 'First frame', unit: '', min: 0, max: 1e6, step: 1 },
  { key: 'last', label: 'Last frame', unit: '', min: 0, max: 1e6, step: 1 },
  { key: 'framesPerSecond', label: 'Frame rate', unit: 'a second', min: 1, max: 1000, step: 1 },
  {
    key: 'shutter',
    label: 'Shutter',
    unit: '% of a frame',
    min: 0,
    max: 100,
    step: 5,
    percent: true,
    hint: '0: no motion blur',
  },
];
const AROUND: typeof FIELDS = [
  { key: 'surroundingsTurn', label: 'Turned by', unit: '°', min: -360, max: 360, step: 1 },
  { key: 'surroundingsStops', label: 'Brighter by', unit: 'stops', min: -20, max: 20, step: 0.1 },
];
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
function set(f: (typeof FIELDS)[number], value: number | null | undefined): void {
  const shown = value ?? DEFAULT_RENDER[f.key] * (f.percent ? 100 : 1);
  const next = Math.min(f.max, Math.max(f.min, f.step >= 1 && !f.percent ? Math.round(shown) : shown));
  plan.plan.render[f.key] = f.percent ? next / 100 : next;
  void plan.commit(`${f.label} ${next}`);
}
function reset(f: (typeof FIELDS)[number]): void {
  set(f, undefined);
}
const shown = (f: (typeof FIELDS)[number]) =>
  f.percent ? Math.round(plan.plan.render[f.key] * 1e5) / 1e3 : plan.plan.render[f.key];

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
    layers.map((l) =>
      fileName(output, l, { shot: props.shotName, version: props.nextVersion, frame, camera }),
    ),
  );
});
const fault = computed(() => plan.errors.find((f) => f.code === 'output')?.message);
const commit = (label: string) => void plan.commit(label);
</script>

<template>
  <div class="settings">
    <h3 class="paper-heading">Picture</h3>
    <div v-for="f in FIELDS" :key="f.key" class="field">
      <span :title="`${f.hint ?? ''} Double-click to reset`" @dblclick="reset(f)">{{ f.label }}</span>
      <ElInputNumber
        :model-value="shown(f)"
        :min="f.min"
        :max="f.max"
        :step="f.step"
        :controls="false"
        size="small"
        :aria-label="f.label"
        @change="(n) => set(f, n)"
      />
      <small>{{ f.unit }}</small>
    </div>
    <div class="field wide">
      <span>Pixel filter</span>
      <ElSelect
        v-model="plan.plan.render.filter"
        size="small"
        aria-label="Pixel filter"
        @change="commit('Pixel filter')"
      >
        <ElOption v-for="f in PIXEL_FILTERS" :key="f" :value="f" :label="f" />
      </ElSelect>
    </div>
    <h3 class="paper-heading">Camera and time</h3>
    <div v-if="(plan.outline?.cameras.length ?? 0) > 1" class="field wide">
      <span>Camera</span>
      <ElSelect v-model="plan.plan.render.camera" size="small" aria-label="Camera" @change="commit('Camera')">
        <ElOption value="" label="the first one" />
        <ElOption v-for="c in plan.outline!.cameras" :key="c" :value="c" :label="c" />
      </ElSelect>
    </div>
    <div v-for="f in TIME" :key="f.key" class="field">
      <span :title="`${f.hint ?? ''} Double-click to reset`" @dblclick="reset(f)">{{ f.label }}</span>
      <ElInputNumber
        :model-value="shown(f)"
        :min="f.min"
        :max="f.max"
        :step="f.step"
        :controls="false"
        size="small"
        :aria-label="f.label"
        @change="(n) => set(f, n)"
      />
      <small>{{ f.unit }}</small>
    </div>
    <div class="field wide">
      <span>Own lens</span>
      <ElSwitch v-model="ownLens" size="small" class="paper-switch" aria-label="Lens of its own" />
    </div>
    <template v-if="ownLens">
      <div class="field">
        <span>Lens radius</span>
        <ElInputNumber
          v-model="plan.plan.render.lensRadius"
          :min="0"
          :max="1e6"
          :step="0.001"
          :controls="false"
          size="small"
          aria-label="Lens radius"
          @change="commit('Lens radius')"
        />
        <small>scene units</small>
      </div>
      <div class="field">
        <span>Sharp at</span>
        <ElInputNumber
          v-model="plan.plan.render.focus"
          :min="0.0001"
          :max="1e9"
          :step="0.1"
          :controls="false"
          size="small"
          aria-label="Sharp at"
          @change="commit('Distance of focus')"
        />
        <small>scene units</small>
      </div>
    </template>
    <h3 class="paper-heading">Surroundings</h3>
    <div class="field wide">
      <span>Light from</span>
      <ElSelect
        v-model="plan.plan.render.surroundings"
        size="small"
        aria-label="Picture that lights the scene"
        @change="commit('Surroundings')"
      >
        <ElOption value="" label="the scene’s own sky" />
        <ElOption v-for="f in pictures" :key="f" :value="f" :label="f" />
      </ElSelect>
    </div>
    <ElButton size="small" text @click="chooser?.click()">Add a picture (.exr)…</ElButton>
    <input ref="chooser" type="file" accept=".exr" hidden @change="chosen" />
    <template v-if="plan.plan.render.surroundings">
      <div v-for="f in AROUND" :key="f.key" class="field">
        <span title="Double-click to reset" @dblclick="reset(f)">{{ f.label }}</span>
        <ElInputNumber
          :model-value="shown(f)"
          :min="f.min"
          :max="f.max"
          :step="f.step"
          :controls="false"
          size="small"
          :aria-label="f.label"
          @change="(n) => set(f, n)"
        />
        <small>{{ f.unit }}</small>
      </div>
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
    <div class="field wide">
      <span>IDs in own file</span>
      <ElSwitch
        v-model="plan.plan.output.idsApart"
        size="small"
        class="paper-switch"
        aria-label="ID passes in a file of their own"
        @change="commit('File of the ID passes')"
      />
    </div>
    <div class="field wide">
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
  grid-template-columns: 96px 74px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
.field.wide {
  grid-template-columns: 96px minmax(0, 1fr);
}
.field :deep(.el-input-number) {
  width: 74px;
}
.field small {
  color: var(--ink-quiet);
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
  background: #fffdf8;
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
