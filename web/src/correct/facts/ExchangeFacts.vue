<script setup lang="ts">
import { useFileDialog } from '@vueuse/core';
import { ref, shallowRef } from 'vue';
import type { Change, StepUse } from '@zesty-crow/core/changes';
import { exchangeOf, type Exchanged } from '@zesty-crow/core/corrections/exchange';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { textOfFile } from '../../fields/file-text.ts';

/** Files in which other programs hand such a correction over: read, and written. */
const props = defineProps<{ change: Change; use: StepUse }>();
const changes = useChanges();
const exchange = exchangeOf(props.use.kind)!;

/** What a file holds, if there is a choice. */
const held = shallowRef<readonly Exchanged[]>();
const link = ref<HTMLAnchorElement>();
const { open, onChange } = useFileDialog({
  accept: exchange.endings.join(),
  multiple: false,
  reset: true,
});
onChange((files) => {
  const file = files?.[0];
  if (file) void read(file).catch(notifyError);
});
async function read(file: File): Promise<void> {
  const text = await textOfFile(file);
  let found: Exchanged[];
  try {
    found = exchange.read(text);
  } catch (error) {
    throw new Error(`${file.name} cannot be used. ${(error as Error).message}`);
  }
  if (found.length === 1) take(found[0]!);
  else held.value = found;
}
function take({ name, values }: Exchanged): void {
  held.value = undefined;
  changes.setValues(props.change, 'corrections', props.use.id, values);
  void changes.commit(`${exchange.label} from “${name}”`.slice(0, 200));
}
function save(ending: string): void {
  const name = props.change.words || exchange.label;
  const text = exchange.write([{ name, values: props.use.values }], ending);
  const url = URL.createObjectURL(new Blob([text], { type: 'application/xml' }));
  link.value!.href = url;
  link.value!.download = `${name.replace(/[^\p{L}\p{N}._-]+/gu, '_')}${ending}`;
  link.value!.click();
  URL.revokeObjectURL(url);
}
</script>

<template>
  <p class="paper-hint">
    {{ exchange.label }}:
    <button class="plain-button" type="button" @click="open()">Load a file…</button>
    <template v-for="e in exchange.endings" :key="e">
      <button class="plain-button" type="button" @click="save(e)">Save as {{ e }}</button>
    </template>
    <a ref="link" hidden />
  </p>
  <p v-if="held" class="paper-hint" role="status">
    The file holds {{ held.length }}:
    <button v-for="(l, i) in held" :key="i" class="plain-button" type="button" @click="take(l)">
      {{ l.name }}
    </button>
  </p>
</template>

<style scoped>
p {
  margin: 4px 0 6px;
}
button {
  margin-right: 8px;
  text-decoration: underline;
}
</style>
