<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup, ElInput, ElOption, ElSelect } from 'element-plus';
import { computed, ref } from 'vue';
import {
  EXISTING,
  nameBy,
  NAME_PARTS,
  parcelKind,
  patternFault,
  settingsOfParcel,
  type Existing,
  type Parcel,
} from '@zesty-crow/core/parcels';
import type { Field } from '@zesty-crow/core/fields';
import { useChanges } from '../shot/changes/changes.ts';
import FieldControl from '../fields/FieldControl.vue';
import { api } from '../server/api.ts';
import { notifyError } from '../server/notify.ts';
import { useParcels } from './parcels.ts';

/** All that can be said of a parcel. */
const props = defineProps<{
  parcel: Parcel;
  sequence: boolean;
  shot: string;
  version: number;
  frame: number | undefined;
  /** ID layers of the version. */
  layers: readonly string[];
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
  quality: (s) => s['format'] === 'jpeg',
  layer: (s) => s['of'] !== 'changes',
  members: (s) => s['of'] !== 'changes',
  refined: (s) => s['of'] === 'changes',
  colour: (s) => s['ground'] === 'colour',
  picture: (s) => s['ground'] === 'picture',
  parts: (s) => s['format'] === 'exr',
  depths: (s) => s['format'] === 'exr',
  alpha: (s) => s['ground'] === 'nothing',
};
const fields = computed((): Field[] =>
  (kind.value?.fields ?? []).filter((f) =>
    f.key === 'tells' ? props.sequence : (BESIDE[f.key]?.(settings.value) ?? true),
  ),
);
const variants = computed(() => [{ id: '', name: 'The list itself' }, ...changes.list.variants]);
const fault = computed(() => patternFault(props.parcel.name));
const example = computed(() => {
  const [first] =
    kind.value?.parts({ list: changes.list, settings: settings.value, variant: undefined, frames: [] }) ?? [];
  const variant = changes.list.variants.find((v) => v.id === props.parcel.variants[0])?.name ?? '';
  return `${nameBy(props.parcel.name, {
    shot: props.shot,
    version: props.version,
    variant,
    part: first?.part ?? '',
    frame: props.sequence && kind.value?.per !== 'all frames' ? props.frame : undefined,
    parcel: props.parcel.title,
  })}${first?.ending ?? ''}`;
});
const sending = ref(false);
/** Sends a picture, and lays it below. */
async function lay(key: string, file: File): Promise<void> {
  if (!changes.shotId) return;
  sending.value = true;
  try {
    const stored = await api.uploadPicture(changes.shotId, file);
    parcels.setValue(props.parcel, key, { file: stored.id, name: stored.name });
    commit(`Lay ${stored.name} below`);
  } finally {
    sending.value = false;
  }
}
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
    <template v-for="f in fields" :key="f.key">
      <div v-if="f.key === 'layer'" class="line">
        <label :for="`layer-${parcel.id}`">{{ f.label }}</label>
        <ElSelect
          :id="`layer-${parcel.id}`"
          size="small"
          filterable
          allow-create
          :model-value="settings[f.key]"
          @update:model-value="
            parcels.setValue(parcel, f.key, $event as string);
            commit(f.label);
          "
        >
          <ElOption v-for="l in layers" :key="l" :value="l" :label="l" />
        </ElSelect>
      </div>
      <FieldControl
        v-else
        :field="f"
        :slider="false"
        :model-value="settings[f.key]"
        :sending="sending"
        @update:model-value="parcels.setValue(parcel, f.key, $event)"
        @commit="commit(f.label)"
        @file="lay(f.key, $event).catch(notifyError)"
      />
    </template>
    <div v-if="sequence && (kind?.per !== 'shot' || kind.tells)" class="line">
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
      <span>Goes to</span>
      <div>
        <ElSelect
          size="small"
          filterable
          allow-create
          :model-value="parcel.folder || '-'"
          :disabled="parcels.folders.length === 0 && parcel.folder === ''"
          aria-label="Goes to"
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
    <div v-if="parcel.folder" class="line">
      <span>Files there</span>
      <ElSelect
        size="small"
        :model-value="parcel.existing ?? 'replace'"
        aria-label="Files there"
        @update:model-value="
          parcels.set(parcel, { existing: $event as Existing });
          commit('Files that are there');
        "
      >
        <ElOption v-for="e in EXISTING" :key="e.value" :value="e.value" :label="e.label" />
      </ElSelect>
    </div>
    <ElCheckbox
      size="small"
      :model-value="parcel.strict ?? false"
      label="Make nothing if anything is missing"
      title="A member, a pass, a frame or a mask that this parcel asks for: by default the rest is made, and what is missing is told."
      @update:model-value="
        parcels.set(parcel, { strict: $event as boolean });
        commit('Make nothing if anything is missing');
      "
    />
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
