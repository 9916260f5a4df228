<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu, ElButton, ElSwitch } from 'element-plus';
import { Plus, X } from '@lucide/vue';
import { correctionOf, withValue, type Change, type StepUse, type FieldValue } from '@zesty-crow/core';
import FieldControl from '../fields/FieldControl.vue';
import { useChanges } from './changes.ts';
import { useLook } from './look.ts';

defineProps<{ change: Change }>();
const changes = useChanges();
const view = useLook();

const fields = (use: StepUse) => correctionOf(use.kind)?.fields ?? [];

function set(use: StepUse, key: string, next: FieldValue): void {
  use.values = withValue(fields(use), use.values, key, next);
}
</script>

<template>
  <section>
    <h3 class="paper-heading">Corrections</h3>
    <p v-if="change.corrections.length === 0" class="paper-hint">Nothing is corrected yet.</p>
    <article v-for="use in change.corrections" :key="use.id" :class="{ off: !use.on }">
      <header>
        <strong>{{ correctionOf(use.kind)?.label ?? use.kind }}</strong>
        <ElSwitch
          class="paper-switch"
          :model-value="use.on"
          size="small"
          :aria-label="`Apply ${correctionOf(use.kind)?.label ?? use.kind}`"
          @update:model-value="
            (on) => {
              use.on = on === true;
              void changes.commit(on ? 'Turn on correction' : 'Turn off correction');
            }
          "
        />
        <button
          class="plain-button"
          type="button"
          aria-label="Remove correction"
          @click="changes.removeCorrection(change, use.id)"
        >
          <X :size="15" :stroke-width="1.6" />
        </button>
      </header>
      <FieldControl
        v-for="f in fields(use)"
        :key="f.key"
        :field="f"
        :model-value="use.values[f.key] ?? f.neutral"
        @update:model-value="set(use, f.key, $event)"
        @moving="view.adjusting = $event"
        @commit="changes.commit(f.label)"
      />
    </article>
    <ElDropdown trigger="click" @command="(kind: string) => changes.addCorrection(change, kind)">
      <ElButton size="small" :icon="Plus">Add a correction</ElButton>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem v-for="c in changes.kinds" :key="c.kind" :command="c.kind">{{
            c.label
          }}</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </section>
</template>

<style scoped>
article {
  padding: 6px 0 8px;
  border-top: 1px solid var(--paper-line);
}
article:last-of-type {
  margin-bottom: 6px;
}
article.off .control {
  opacity: 0.45;
}
header {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 2px;
}
header strong {
  flex: 1;
  font-weight: 550;
}
</style>
