<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus';
import { useFileDialog } from '@vueuse/core';
import { computed, ref } from 'vue';
import { paletteOf } from '@zesty-crow/core/colour';
import { settingsOfStep, type Change, type StepUse } from '@zesty-crow/core/changes';
import type { ColourValue } from '@zesty-crow/core/fields';
import { hexOf } from '../../fields/colour-text.ts';
import { pixelsOfFile } from '../../fields/file-pixels.ts';
import { notify, notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { STEP_LISTS } from '../../shot/changes/step-kinds.ts';
import { swatchesOf } from './swatch-list.ts';
import { textOfFile } from '../../fields/file-text.ts';

/** A variant for each colour of a list: typed or pasted, of a CSV file, or of a picture of a palette. */
const emit = defineEmits<{ close: [] }>();

/** A setting that takes a colour: what a list of swatches can be put into. */
interface ColourSetting {
  change: Change;
  use: StepUse;
  key: string;
  label: string;
}
const changes = useChanges();
/** So many colours of a palette picture at most. */
const MOST = 48;

/** What the colours can go into: every colour that some correction has. */
const settings = computed((): ColourSetting[] =>
  changes.list.changes.flatMap((change) =>
    change.corrections.flatMap((use) =>
      settingsOfStep('corrections', use.kind).flatMap((f) =>
        f.kind === 'colour' ? [{ change, use, key: f.key, label: f.label }] : [],
      ),
    ),
  ),
);
const idOf = ({ change, use, key }: ColourSetting) => `${change.id} ${use.id} ${key}`;
const labelOf = ({ change, use, label }: ColourSetting) => {
  const kind = STEP_LISTS.corrections.kinds.find((k) => k.kind === use.kind)?.label ?? use.kind;
  return `${change.words || 'New change'}: ${kind}, ${label.toLowerCase()}`;
};
const wanted = ref<string>();
const setting = computed(
  () =>
    settings.value.find((s) => idOf(s) === wanted.value) ??
    settings.value.find((s) => s.change.id === changes.openId) ??
    settings.value[0],
);

const text = ref('');
const found = computed(() => swatchesOf(text.value));
const lineOf = (colour: ColourValue) => hexOf(colour) ?? '';

const { open, onChange } = useFileDialog({ accept: '.csv,.txt,.tsv,image/*', multiple: false, reset: true });
onChange((files) => {
  const file = files?.[0];
  if (file) void take(file).catch(notifyError);
});
async function take(file: File): Promise<void> {
  const lines = file.type.startsWith('image/')
    ? paletteOf(await pixelsOfFile(file, 800), MOST).map(lineOf)
    : (await textOfFile(file)).split(/\r?\n/);
  if (lines.length === 0) return notify(`There are no areas of one colour in ${file.name}.`);
  text.value = [text.value.trimEnd(), ...lines].filter((l) => l !== '').join('\n');
}
function make(): void {
  if (!setting.value) return;
  const { change, use, key } = setting.value;
  changes.addVariants(
    found.value.colours.map(({ name, colour }) => ({ name, values: { [key]: colour } })),
    { change: change.id, step: use.id },
  );
  emit('close');
}
</script>

<template>
  <ElDialog model-value title="Variants from swatches" width="560" append-to-body @close="emit('close')">
    <p v-if="!setting" class="paper-hint">
      No correction has a colour yet. Add one first: Recolour to a swatch, for example.
    </p>
    <template v-else>
      <div class="into">
        <span>Colour to set</span>
        <ElSelect
          :model-value="idOf(setting)"
          aria-label="Colour to set"
          @update:model-value="wanted = $event as string"
        >
          <ElOption v-for="s in settings" :key="idOf(s)" :value="idOf(s)" :label="labelOf(s)" />
        </ElSelect>
      </div>
      <ElInput
        v-model="text"
        type="textarea"
        :rows="8"
        aria-label="Swatches, one a line"
        placeholder="One a line, with a name or without:
Moss, #4b5d2a
#1f5fae
Honey	217	180	74"
      />
      <ElButton size="small" class="load" @click="open()">Load a table or a picture…</ElButton>
      <ul v-if="found.colours.length" aria-label="Variants to make">
        <li v-for="(c, i) in found.colours" :key="i">
          <i :style="{ background: hexOf(c.colour) ?? '#fff' }" /><span class="cut">{{ c.name }}</span>
        </li>
      </ul>
      <p v-if="found.unread.length" class="paper-hint" role="alert">
        No colour in line {{ found.unread.slice(0, 8).join(', ') }}{{ found.unread.length > 8 ? ', …' : '' }}.
      </p>
    </template>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="!setting || found.colours.length === 0" @click="make">
        {{
          found.colours.length === 0
            ? 'Make variants'
            : found.colours.length === 1
              ? 'Make 1 variant'
              : `Make ${found.colours.length} variants`
        }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.into {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
}
.load {
  margin-top: 8px;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(116px, 1fr));
  gap: 5px 10px;
  max-height: 180px;
  margin: 10px 0 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: flex;
  gap: 6px;
  align-items: center;
  min-width: 0;
}
i {
  flex: none;
  width: 26px;
  height: 18px;
}
p {
  margin: 8px 0 0;
}
</style>
