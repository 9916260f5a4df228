<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup, ElInput, ElOption, ElSelect } from 'element-plus';
import { computed } from 'vue';
import {
  nameBy,
  NAME_PARTS,
  parcelKind,
  patternFault,
  settingsOfParcel,
  type Parcel,
} from '@zesty-crow/core/parcels';
import type { Field } from '@zesty-crow/core/fields';
import { useChanges } from '../correct/changes.ts';
import FieldControl from '../fields/FieldControl.vue';
import { useParcels } from './parcels.ts';

/** All that can be said of a parcel. */
const props = defineProps<{
  parcel: Parcel;
  sequence: boolean;
  shot: string;
  version: number;
  frame: number | undefined;
}>();
const parcels = useParcels();
const changes = useChanges();

const kind = computed(() => parcelKind(props.parcel.kind));
const settings = computed(() => settingsOfParcel(props.parcel));
/** Settings that say something with the others as they are. */
const BESIDE: Record<string, (s: Record<string, unknown>) => boolean> = {
  type: (s) => s['format'] === 'exr',
  compression: (s) => s['format'] === 'exr',
  others: (s) => s['format'] === 'exr',
  transform: (s) => s['format'] !== 'exr',
  profile: (s) => s['format'] !== 'exr',
  dither: (s) => s['format'] !== 'exr',
  window: (s) => s['format'] !== 'exr',
  quality: (s) => s['format'] === 'jpeg',
  layer: (s) => s['of'] !== 'changes',
  members: (s) => s['of'] !== 'changes',
  refined: (s) => s['of'] === 'changes',
  colour: (s) => s['ground'] === 'colour',
};
const fields = computed((): Field[] =>
  (kind.value?.fields ?? []).filter((f) => BESIDE[f.key]?.(settings.value) ?? true),
);
const variants = computed(() => [{ id: '', name: 'The list itself' }, ...changes.list.variants]);
const fault = computed(() => patternFault(props.parcel.name));
const example = computed(() => {
  const [first] =
    kind.value?.parts({ list: changes.list, settings: settings.value, variant: undefined }) ?? [];
  const variant = changes.list.variants.find((v) => v.id === props.parcel.variants[0])?.name ?? '';
  return `${nameBy(props.parcel.name, {
    shot: props.shot,
    version: props.version,
    variant,
    part: first?.part ?? '',
    frame: props.sequence ? props.frame : undefined,
    parcel: props.parcel.title,
  })}${first?.ending ?? ''}`;
});
const commit = (label: string) => void parcels.commit(label);
function chosen(ids: unknown): void {
  parcels.set(props.parcel, { variants: ids as string[] });
  commit('Variants of a parcel');
}
</script>

<template>
  <section class="sheet" aria-label="Parcel">
    <header>
      <ElInput
        :model-value="parcel.title"
        maxlength="200"
        aria-label="Title of the parcel"
        @update:model-value="parcels.set(parcel, { title: $event })"
        @change="commit('Title of a parcel')"
      />
      <p class="paper-hint">{{ kind?.label }}. {{ kind?.hint }}</p>
    </header>
    <FieldControl
      v-for="f in fields"
      :key="f.key"
      :field="f"
      :slider="false"
      :model-value="settings[f.key]"
      @update:model-value="parcels.setValue(parcel, f.key, $event)"
      @commit="commit(f.label)"
    />
    <div v-if="sequence && kind?.per === 'frame'" class="line">
      <label :for="`frames-${parcel.id}`">Frames</label>
      <ElInput
        :id="`frames-${parcel.id}`"
        size="small"
        :model-value="parcel.frames"
        maxlength="500"
        placeholder="all; or 1-10, 14"
        @update:model-value="parcels.set(parcel, { frames: $event })"
        @change="commit('Frames of a parcel')"
      />
    </div>
    <div
      v-if="kind?.varies && variants.length > 1"
      class="line"
      role="group"
      aria-label="Variants of the parcel"
    >
      <span>Variants</span>
      <ElCheckboxGroup :model-value="parcel.variants" size="small" @update:model-value="chosen">
        <ElCheckbox v-for="v in variants" :key="v.id" :value="v.id" :label="v.name" />
      </ElCheckboxGroup>
    </div>
    <div class="line">
      <label :for="`name-${parcel.id}`">File names</label>
      <div>
        <ElInput
          :id="`name-${parcel.id}`"
          size="small"
          :model-value="parcel.name"
          maxlength="300"
          @update:model-value="parcels.set(parcel, { name: $event })"
          @change="commit('File names of a parcel')"
        />
        <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
        <p v-else class="paper-hint example">{{ example }}</p>
        <p class="placeholders">
          <button
            v-for="p in NAME_PARTS"
            :key="p.name"
            class="plain-button"
            type="button"
            :title="p.label"
            @click="
              parcels.set(parcel, { name: `${parcel.name}{${p.name}}` });
              commit('File names of a parcel');
            "
          >
            {{ `{${p.name}\}` }}
          </button>
        </p>
      </div>
    </div>
    <div class="line">
      <span :id="`to-${parcel.id}`">Goes to</span>
      <div>
        <ElSelect
          size="small"
          filterable
          allow-create
          :model-value="parcel.folder || '-'"
          :disabled="parcels.folders.length === 0 && parcel.folder === ''"
          :aria-labelledby="`to-${parcel.id}`"
          @update:model-value="
            parcels.set(parcel, { folder: $event === '-' ? '' : ($event as string) });
            commit('Folder of a parcel');
          "
        >
          <ElOption value="-" label="a download" />
          <ElOption v-for="f in parcels.folders" :key="f" :value="f" :label="f" />
          <ElOption
            v-if="parcel.folder && !parcels.folders.includes(parcel.folder)"
            :value="parcel.folder"
            :label="parcel.folder"
          />
        </ElSelect>
        <p v-if="parcels.folders.length === 0" class="paper-hint">
          Folders on the server can be allowed with ZESTY_CROW_HAND_OVER when it is started.
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  padding: 16px 18px;
  background: var(--paper);
  color: var(--ink);
}
header {
  margin-bottom: 10px;
}
header p {
  margin: 6px 0 0;
}
.line {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  align-items: baseline;
  padding: 5px 0;
}
.line p {
  margin: 3px 0 0;
}
.example {
  overflow-wrap: anywhere;
}
.placeholders button {
  margin-right: 8px;
  color: var(--ink-quiet);
}
.placeholders button:hover {
  color: var(--ink);
}
.fault {
  color: var(--alarm);
}
</style>
