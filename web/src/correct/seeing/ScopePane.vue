<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';
import { ElOption, ElSelect } from 'element-plus';
import { computed, toRef } from 'vue';
import type { ColourValue } from '@zesty-crow/core/fields';
import { SCOPES } from '@zesty-crow/core/scopes';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import ScopeCanvas from './ScopeCanvas.vue';
import { useScope, type ScopePlace } from './use-scope.ts';

/** How the colours of the frame, of the mask, or around the pointer are spread, while they are corrected. */
const props = defineProps<{
  probe: Probe | undefined;
  /** Under which its choices are remembered. */
  memory: string;
  usual: string;
}>();
const picture = usePicture();
const changes = useChanges();
const { memory, usual } = props;
const name = useLocalStorage(memory, usual);
const where = useLocalStorage<ScopePlace>(`${memory}-of`, 'mask');
const { scope, counts } = useScope(name, where, toRef(props, 'probe'));

/** The swatch that the open change goes for, and where its part is. */
const marks = computed(() => {
  const { open: change } = changes;
  const swatch = change?.corrections.find((c) => c.on && c.values['swatch'])?.values['swatch'];
  const mean = change && picture.swatches[change.id]?.mean;
  return [
    ...(swatch ? [{ colour: swatch as ColourValue, label: 'the swatch' }] : []),
    ...(mean && where.value === 'mask' ? [{ colour: mean, label: 'the mean of the part' }] : []),
  ];
});
</script>

<template>
  <div class="pane">
    <div class="choice">
      <ElSelect v-model="name" size="small" aria-label="Scope">
        <ElOption v-for="s in SCOPES" :key="s.name" :value="s.name" :label="s.label" />
      </ElSelect>
      <ElSelect v-model="where" size="small" aria-label="Of what">
        <ElOption value="mask" label="of the mask" />
        <ElOption value="frame" label="of the frame" />
        <ElOption value="pointer" label="around the pointer" />
      </ElSelect>
    </div>
    <ScopeCanvas :scope="scope" :counts="counts" :marks="marks" :title="scope.hint" />
    <p v-if="!counts">
      {{ where === 'pointer' ? 'Point at the picture.' : 'Choose a change: its mask is looked at.' }}
    </p>
  </div>
</template>

<style scoped>
.pane {
  position: relative;
  display: flex;
  flex: 1;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
  min-height: 0;
}
.choice {
  display: flex;
  gap: 4px;
}
.choice > * {
  max-width: 150px;
}
p {
  position: absolute;
  inset: 50% 0 auto;
  margin: 0;
  text-align: center;
  color: var(--on-room-quiet);
}
</style>
