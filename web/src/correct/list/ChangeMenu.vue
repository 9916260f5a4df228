<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { Ellipsis } from '@lucide/vue';
import { computed } from 'vue';
import { apart, type Change } from '@zesty-crow/core';
import { useChanges } from '../../shot/changes/changes.ts';

/** What can be done with a whole change. */
const props = defineProps<{ change: Change }>();
const changes = useChanges();

const others = computed(() => changes.list.changes.filter((c) => c.id !== props.change.id));
const headings = computed(() => changes.list.headings.filter((h) => h.id !== props.change.heading));

const COMMANDS: Record<string, (id: string) => void> = {
  copy: () => changes.copyChange(props.change),
  split: () => changes.splitChange(props.change),
  join: (id) => changes.joinChange(props.change, id),
  under: (id) => changes.putUnder(props.change, id),
  out: () => changes.putUnder(props.change, undefined),
  heading: () => changes.addHeading(props.change),
};
function command(text: string): void {
  const [name, id] = text.split(' ');
  COMMANDS[name!]!(id ?? '');
}
</script>

<template>
  <ElDropdown trigger="click" :persistent="false" @command="command">
    <button
      class="plain-button more"
      type="button"
      :aria-label="`More for ${change.words || 'change'}`"
      @click.stop
    >
      <Ellipsis :size="16" />
    </button>
    <template #dropdown>
      <ElDropdownMenu>
        <ElDropdownItem command="copy">Copy</ElDropdownItem>
        <ElDropdownItem command="split" :disabled="apart(change.who).length === 0">
          Split: a change for each pick
        </ElDropdownItem>
        <ElDropdownItem command="heading" divided>Put under a new heading</ElDropdownItem>
        <ElDropdownItem v-for="h in headings" :key="h.id" :command="`under ${h.id}`">
          <span class="long">Put under “{{ h.words || 'heading' }}”</span>
        </ElDropdownItem>
        <ElDropdownItem v-if="change.heading !== undefined" command="out"
          >Take out of its heading</ElDropdownItem
        >
        <ElDropdownItem v-for="(c, i) in others" :key="c.id" :command="`join ${c.id}`" :divided="i === 0">
          <span class="long">Take over the picks of “{{ c.words || 'New change' }}”</span>
        </ElDropdownItem>
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>

<style scoped>
.more {
  display: grid;
  color: #8b887d;
}
.long {
  display: block;
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
