<script setup lang="ts">
import { ElCheckbox, ElColorPicker, ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { computed, ref, watch } from 'vue';
import type { RenderRequest } from '@zesty-crow/core';
import { usePlan } from '../shot/plan.ts';
import type { Version } from '@zesty-crow/server/contract';
import { type Asked, overrideOf, memberOptions, requestOf } from './request.ts';

const props = defineProps<{ versions: Version[] }>();
const emit = defineEmits<{ change: [value: Asked] }>();
const plan = usePlan();

const WHATS = [
  { value: 'all', label: 'Picture and passes' },
  { value: 'ids', label: 'Only ID and data passes' },
  { value: 'cut-out', label: 'Only some members' },
  { value: 'patch', label: 'New look for some members' },
] as const;
const NOTES: Record<RenderRequest['what'], string> = {
  all: 'Becomes the next version of the shot.',
  ids: 'No light: quick. The passes join a version that was rendered with the same camera and samples.',
  'cut-out':
    'The members alone, with a clean alpha. They keep the light, shadows and reflections of the whole scene.',
  patch: 'Renders only the pixels in which the members are seen, and lays them exactly over a version.',
};
const what = ref<RenderRequest['what']>('all');
const base = ref<string>();
const who = ref<string[]>([]);
const covered = ref(true);
const catcher = ref<string[]>([]);
const colour = ref<string | null>(null);
const metalness = ref<number>();
const roughness = ref<number>();

const fitting = computed(() =>
  props.versions.filter(
    (v) => v.state === 'ready' && v.width === plan.plan.render.width && v.height === plan.plan.render.height,
  ),
);
watch(
  fitting,
  (list) => {
    if (!list.some((v) => v.id === base.value)) base.value = list[0]?.id;
  },
  { immediate: true },
);

const options = computed(() => memberOptions(plan.plan, plan.roster));
const objects = computed(() => options.value.find((o) => o.kind === 'object')?.list ?? []);
const value = computed(() =>
  requestOf(
    {
      what: what.value,
      ...(base.value ? { base: base.value } : {}),
      who: who.value,
      covered: covered.value,
      catcher: catcher.value,
      override: overrideOf(colour.value, metalness.value, roughness.value),
    },
    plan.plan,
    plan.roster,
  ),
);
watch(value, (v) => emit('change', v), { immediate: true });
</script>

<template>
  <div>
    <ElSelect v-model="what" aria-label="What to render">
      <ElOption v-for="w in WHATS" :key="w.value" :value="w.value" :label="w.label" />
    </ElSelect>
    <p class="paper-hint note">{{ NOTES[what] }}</p>
    <div v-if="what === 'ids' || what === 'patch'" class="field">
      <span>{{ what === 'ids' ? 'Joins' : 'Over' }}</span>
      <ElSelect
        v-model="base"
        size="small"
        :clearable="what === 'ids'"
        placeholder="a version of its own"
        aria-label="Version"
      >
        <ElOption v-for="v in fitting" :key="v.id" :value="v.id" :label="`v${v.number}`" />
      </ElSelect>
    </div>
    <template v-if="what === 'cut-out' || what === 'patch'">
      <div class="field">
        <span>Members</span>
        <ElSelect
          v-model="who"
          multiple
          filterable
          collapse-tags
          size="small"
          placeholder="who?"
          aria-label="Members to render"
        >
          <template v-for="g in options" :key="g.kind">
            <ElOption v-for="o in g.list" :key="o.value" :value="o.value" :label="o.label">
              <span>{{ o.label }}</span> <small class="kind">{{ g.kind }}</small>
            </ElOption>
          </template>
        </ElSelect>
      </div>
    </template>
    <template v-if="what === 'cut-out'">
      <ElCheckbox v-model="covered" label="cut away what is in front of them" size="small" />
      <div class="field">
        <span>Catcher</span>
        <ElSelect
          v-model="catcher"
          multiple
          filterable
          collapse-tags
          size="small"
          clearable
          placeholder="none"
          aria-label="Catches shadow and reflection"
        >
          <ElOption v-for="o in objects" :key="o.value" :value="o.value" :label="o.label" />
        </ElSelect>
      </div>
      <p v-if="catcher.length" class="paper-hint note">
        Its shadow and reflection become layers of their own.
      </p>
    </template>
    <template v-if="what === 'patch'">
      <div class="field">
        <span>Colour</span>
        <ElColorPicker v-model="colour" size="small" color-format="rgb" aria-label="New colour" />
      </div>
      <div class="field">
        <span>Roughness</span>
        <ElInputNumber
          v-model="roughness"
          :min="0"
          :max="1"
          :step="0.05"
          :controls="false"
          size="small"
          placeholder="as is"
          aria-label="New roughness"
        />
      </div>
      <div class="field">
        <span>Metalness</span>
        <ElInputNumber
          v-model="metalness"
          :min="0"
          :max="1"
          :step="0.05"
          :controls="false"
          size="small"
          placeholder="as is"
          aria-label="New metalness"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.note {
  margin: 5px 0 6px;
}
.field {
  display: grid;
  grid-template-columns: 72px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 30px;
}
.field :deep(.el-input-number) {
  width: 74px;
}
.kind {
  color: var(--ink-quiet);
  float: right;
  margin-left: 12px;
}
</style>
