<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { computed } from 'vue';
import type { Version } from '@zesty-crow/server/contract';
import type { Against } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useLook } from '../../shot/look.ts';

/** What the picture is compared with, by holding a key, by the divider, or as a difference. */
const props = defineProps<{ versions: readonly Version[] }>();
const view = useLook();
const changes = useChanges();
const picture = usePicture();

const others = computed(() =>
  props.versions.filter((v) => v.id !== picture.versionId && v.state === 'ready'),
);
const name = (words: string) => words || 'New change';
const label = computed(() => {
  const { against } = view;
  if (against.kind === 'rendered') return 'as rendered';
  if (against.kind === 'without') return 'without this change';
  if (against.kind === 'only')
    return `only “${name(changes.list.changes.find((c) => c.id === against.changeId)?.words ?? '')}”`;
  if (against.kind === 'variant')
    return `“${changes.list.variants.find((v) => v.id === against.key)?.name ?? 'the list itself'}”`;
  return `v${props.versions.find((v) => v.id === against.key)?.number ?? '?'} ${against.changed ? 'with these changes' : 'as rendered'}`;
});
async function choose(against: Against): Promise<void> {
  if (against.kind === 'version') {
    const version = props.versions.find((v) => v.id === against.key)!;
    try {
      await picture.readOther(against.key, version);
    } catch (error) {
      return notifyError(error);
    }
  }
  view.against = against;
}
</script>

<template>
  <ElDropdown trigger="click" :persistent="false" @command="choose">
    <button
      class="plain-button room-button against"
      type="button"
      :class="{ on: view.against.kind !== 'rendered' }"
      title="What before is: for the key B, the divider, and differences"
    >
      Before: {{ label }}
    </button>
    <template #dropdown>
      <ElDropdownMenu>
        <ElDropdownItem :command="{ kind: 'rendered' }">As rendered</ElDropdownItem>
        <ElDropdownItem :command="{ kind: 'without' }" :disabled="!changes.open">
          Without the open change
        </ElDropdownItem>
        <ElDropdownItem
          v-for="(c, i) in changes.list.changes"
          :key="c.id"
          :divided="i === 0"
          :command="{ kind: 'only', changeId: c.id }"
        >
          <span class="cut words">Only “{{ name(c.words) }}”</span>
        </ElDropdownItem>
        <template v-if="changes.list.variants.length">
          <ElDropdownItem divided :command="{ kind: 'variant', key: '' }">The list itself</ElDropdownItem>
          <ElDropdownItem
            v-for="v in changes.list.variants"
            :key="v.id"
            :command="{ kind: 'variant', key: v.id }"
          >
            <span class="cut words">Variant “{{ v.name }}”</span>
          </ElDropdownItem>
        </template>
        <ElDropdownItem
          v-for="(v, i) in others"
          :key="v.id"
          :divided="i === 0"
          :command="{ kind: 'version', key: v.id }"
        >
          v{{ v.number }} as rendered
        </ElDropdownItem>
        <ElDropdownItem
          v-for="v in others"
          :key="`changed ${v.id}`"
          :command="{ kind: 'version', key: v.id, changed: true }"
        >
          v{{ v.number }} with these changes
        </ElDropdownItem>
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>

<style scoped>
.against {
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words {
  max-width: 260px;
}
</style>
