<script setup lang="ts">
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { Ellipsis, Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { differencesOf, type Variant } from '@zesty-crow/core/changes';
import RenameInput from '../../fields/RenameInput.vue';
import FoldPanel from '../../shot/FoldPanel.vue';
import { useKeyChoices } from '../keys/key-choices.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import SwatchDialog from './SwatchDialog.vue';

/** The variants of the list: one is worked on, or the list itself that all of them share. */
defineEmits<{ wall: [] }>();
const changes = useChanges();
const { tip } = useKeyChoices();
const swatches = ref(false);
const renaming = ref<string>();

const rows = computed(() =>
  changes.list.variants.map((variant) => ({ variant, own: differencesOf(changes.list, variant).length })),
);
const summary = computed(() => changes.variant?.name ?? (rows.value.length ? String(rows.value.length) : ''));
const told = (own: number) => (own === 0 ? 'as the list' : own === 1 ? '1 own value' : `${own} own values`);

function rename(variant: Variant, name: string | undefined): void {
  renaming.value = undefined;
  if (name) changes.renameVariant(variant.id, name);
}
const COMMANDS: Record<string, (variant: Variant) => void> = {
  rename: (v) => (renaming.value = v.id),
  copy: ({ id }) => changes.copyVariant(id),
  remove: ({ id }) => changes.removeVariant(id),
};
</script>

<template>
  <FoldPanel title="Variants" memory="variants" :summary="summary">
    <div class="variants">
      <p v-if="rows.length === 0">The same changes with other values: the lids in twelve colours.</p>
      <ul v-else>
        <li>
          <button
            class="plain-button row"
            type="button"
            :aria-pressed="!changes.variant"
            @click="changes.variantId = undefined"
          >
            <b>The list itself</b>
          </button>
        </li>
        <li v-for="{ variant, own } in rows" :key="variant.id">
          <RenameInput
            v-if="renaming === variant.id"
            :name="variant.name"
            label="Name of the variant"
            @end="rename(variant, $event)"
          />
          <button
            v-else
            class="plain-button row"
            type="button"
            :aria-pressed="changes.variantId === variant.id"
            :title="variant.name"
            @click="changes.variantId = variant.id"
            @dblclick="renaming = variant.id"
          >
            <b class="cut">{{ variant.name }}</b><small>{{ told(own) }}</small>
          </button>
          <ElDropdown trigger="click" :persistent="false" @command="COMMANDS[$event as string]!(variant)">
            <button class="plain-button more" type="button" :aria-label="`More for ${variant.name}`">
              <Ellipsis :size="16" />
            </button>
            <template #dropdown>
              <ElDropdownMenu>
                <ElDropdownItem command="rename">Rename</ElDropdownItem>
                <ElDropdownItem command="copy">Copy</ElDropdownItem>
                <ElDropdownItem command="remove">Delete</ElDropdownItem>
              </ElDropdownMenu>
            </template>
          </ElDropdown>
        </li>
      </ul>
      <div class="buttons">
        <ElButton size="small" :icon="Plus" @click="changes.addVariant('Variant')">New variant</ElButton>
        <ElButton size="small" @click="swatches = true">From swatches…</ElButton>
        <ElButton v-if="rows.length" size="small" @click="$emit('wall')">{{ tip('Show all', 'Y') }}</ElButton>
      </div>
    </div>
    <SwatchDialog v-if="swatches" @close="swatches = false" />
  </FoldPanel>
</template>

<style scoped>
.variants {
  max-height: 34vh;
  padding: 2px 10px 10px;
  overflow-y: auto;
}
p {
  margin: 0 0 8px;
  color: var(--on-room-quiet);
}
ul {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
}
.row {
  display: flex;
  flex: 1;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
  padding: 4px 6px;
  text-align: left;
  color: var(--on-room);
}
.row[aria-pressed='true'] {
  background: var(--crow-soft);
  box-shadow: inset 3px 0 var(--lemon);
}
.row b {
  flex: 1;
  font-weight: 500;
}
.row small {
  flex: none;
  color: var(--on-room-quiet);
}
.more {
  display: grid;
  padding: 4px;
  color: var(--on-room);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
</style>
