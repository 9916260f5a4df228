<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { Columns2 } from '@lucide/vue';
import { computed } from 'vue';
import type { Version } from '@zesty-crow/server/contract';
import type { Against } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useKeyChoices } from '../keys/key-choices.ts';
import { useView, type Comparison } from '../../shot/view.ts';

/** How the picture is compared, and with what: by holding a key, by the divider, beside it, or as a difference. */
const props = defineProps<{ versions: readonly Version[] }>();
const view = useView();
const changes = useChanges();
const picture = usePicture();
const { tip, keyOf } = useKeyChoices();

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
/** The ways of comparing, in the order of the menu. */
const WAYS: { way: Comparison; label: string; key: string }[] = [
  { way: 'off', label: 'Off', key: '' },
  { way: 'divider', label: 'Divider', key: 'V' },
  { way: 'side', label: 'Side by side', key: 'G' },
  { way: 'mask', label: 'Mask beside', key: 'M' },
  { way: 'before', label: 'Before', key: '' },
];
const said = computed(() =>
  view.comparison === 'off' ? 'Compare' : WAYS.find((w) => w.way === view.comparison)!.label,
);
function command(chosen: Comparison | Against): void {
  if (typeof chosen === 'string') view.comparison = chosen;
  else void choose(chosen);
}
/** From so many milliseconds on the button was held, and not clicked. */
const HELD = 300;
let pressed = 0;
let kept = false;
function press(): void {
  kept = view.keepBefore;
  pressed = performance.now();
  view.holdBefore = true;
}
function letGo(): void {
  view.holdBefore = false;
  if (!kept && performance.now() - pressed < HELD) view.comparison = 'before';
}
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
  <span class="compare">
    <ElDropdown trigger="click" :persistent="false" max-height="70vh" @command="command">
      <button
        class="plain-button room-button named"
        type="button"
        aria-label="Compare"
        :class="{ on: view.comparison !== 'off' || view.against.kind !== 'rendered' }"
        :title="`Compare. Before is: ${label}`"
      >
        <Columns2 class="icon" :size="16" :stroke-width="1.6" /><span class="words cut">{{ said }}</span>
      </button>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem
            v-for="w in WAYS"
            :key="w.way"
            :command="w.way"
            :class="{ chosen: view.comparison === w.way }"
            :aria-checked="view.comparison === w.way"
          >
            {{ w.label }}<kbd>{{ w.key && keyOf(w.key) }}</kbd>
          </ElDropdownItem>
          <p class="what">Before is…</p>
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
            <span class="cut long">Only “{{ name(c.words) }}”</span>
          </ElDropdownItem>
          <template v-if="changes.list.variants.length">
            <ElDropdownItem divided :command="{ kind: 'variant', key: '' }">The list itself</ElDropdownItem>
            <ElDropdownItem
              v-for="v in changes.list.variants"
              :key="v.id"
              :command="{ kind: 'variant', key: v.id }"
            >
              <span class="cut long">Variant “{{ v.name }}”</span>
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
    <button
      class="plain-button room-button hold"
      type="button"
      aria-label="Before"
      :aria-pressed="view.holdBefore"
      :title="`${tip('Hold to see before', 'B')}. Click to keep it, click again to go back.`"
      :class="{ on: view.holdBefore }"
      @pointerdown="press"
      @pointerup="letGo"
      @pointerleave="view.holdBefore && !view.keepBefore && letGo()"
      @keydown.enter.prevent="view.comparison = view.keepBefore ? 'off' : 'before'"
    >
      B
    </button>
  </span>
</template>

<style scoped>
.compare {
  display: flex;
  flex: none;
  gap: 1px;
}
.named .words {
  display: block;
}
.named .icon {
  display: none;
}
.hold {
  min-width: 26px;
  padding-inline: 6px;
  font-weight: 600;
}
.what {
  margin: 6px 16px 2px;
  color: var(--ink-quiet);
  font-size: 13px;
}
kbd {
  margin-left: auto;
  padding-left: 16px;
  font: inherit;
  font-size: 13px;
  color: var(--ink-quiet);
}
.chosen {
  font-weight: 650;
}
@container (max-width: 630px) {
  .named .icon {
    display: block;
  }
  .named .words {
    display: none;
  }
  .named {
    padding-inline: 6px;
  }
}
.long {
  max-width: 260px;
}
</style>
