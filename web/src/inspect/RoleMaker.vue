<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { onKeyStroke } from '@vueuse/core';
import { ROLES, type RoleUse } from '@zesty-crow/core/roles';
import type { RoleRow } from '@zesty-crow/core/version';
import type { KnownRoles } from '@zesty-crow/server/contract';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import type { PassPicture } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { api } from '../server/api.ts';
import { draftOf, useOf } from './role-table.ts';
import ShownCanvas from '../picture/ShownCanvas.vue';

/** Says what a pass without names is, and whose its numbers and colours are; colours are named by clicking at them. */
const props = defineProps<{ layer: string; rows: readonly RoleRow[]; versionId: string }>();
const emit = defineEmits<{ keep: [layer: string, use: RoleUse]; open: [layer: string]; close: [] }>();
const picture = usePicture();
const row = computed(() => props.rows.find((r) => r.layer === props.layer) ?? props.rows[0]!);
const draft = ref(draftOf(row.value));
const shown = shallowRef<PassPicture>();
const others = shallowRef<KnownRoles[]>([]);
/** Name only what hangs together around the click. */
const onlyHere = ref(false);
const told = ref('');
/** Red, green and blue among channels. */
const coloursOf = (channels: readonly string[]) =>
  ['R', 'G', 'B'].flatMap((k) => channels.find((c) => c === k || c.endsWith(`.${k}`)) ?? []);
const SLOTS = { r: 'Red', g: 'Green', b: 'Blue' } as const;

watch(row, () => (draft.value = draftOf(row.value)));
watch(
  [row, () => draft.value.channel, () => picture.opened],
  async () => {
    const { channels } = row.value;
    const colours = coloursOf(channels);
    const one = draft.value.channel ?? channels[0]!;
    shown.value = await picture.source(colours.length === 3 && !draft.value.channel ? colours : [one], 1600);
  },
  { immediate: true },
);
void api
  .knownRoles(props.versionId)
  .then((list) => (others.value = list))
  .catch(() => undefined);

const kind = computed(() => ROLES.find((k) => k.role === draft.value.role));
const three = computed(() => row.value.channels.length >= 3);
const fitting = computed(() =>
  ROLES.filter((k) => three.value || (k.role !== 'puzzle-matte' && k.role !== 'flat-colour')),
);
/** Layers that could be the same picture with lines. */
const twins = computed(() => props.rows.filter((r) => r.layer !== row.value.layer && r.channels.length >= 3));
/** Other shots that have said something of a pass of this name. */
const offers = computed(() => others.value.filter((o) => o.roles[row.value.layer]?.role !== undefined));
const unseen = computed(() => draft.value.role === 'number-pass' || draft.value.role === 'flat-colour');

function takeOver(offer: KnownRoles): void {
  draft.value = draftOf(row.value, offer.roles[row.value.layer]);
  told.value = `As in ${offer.shot}.`;
}

const table = ref<HTMLElement>();
/** The place on the picture that was clicked at, in its pixels. */
function pixelAt(e: MouseEvent): { x: number; y: number } | undefined {
  const canvas = (e.currentTarget as HTMLElement).querySelector('canvas');
  const size = picture.size;
  if (!canvas || !size) return undefined;
  const box = canvas.getBoundingClientRect();
  const scale = Math.min(box.width / size.width, box.height / size.height);
  const x = Math.floor((e.clientX - box.left - (box.width - size.width * scale) / 2) / scale);
  const y = Math.floor((e.clientY - box.top - (box.height - size.height * scale) / 2) / scale);
  return x >= 0 && y >= 0 && x < size.width && y < size.height ? { x, y } : undefined;
}
/** Finds what is at a pixel in the table, and has it named. */
async function point(e: MouseEvent): Promise<void> {
  const at = pixelAt(e);
  if (!at || !unseen.value) return;
  const { channels, members } = row.value;
  const { role, channel } = draft.value;
  const flat = role === 'flat-colour';
  const colour = await picture.roleKey(
    role,
    flat ? coloursOf(channels) : [channel ?? channels[0]!],
    at.x,
    at.y,
  );
  if (colour === undefined) return;
  const known = members.some((m) => m.key === colour) || members.length === 0;
  if (!known) {
    told.value = flat
      ? `${colour} is a mixture at an edge. Click in the middle of a thing.`
      : 'There is no number here.';
    return;
  }
  const key = flat && onlyHere.value ? `${colour}@${at.x},${at.y}` : colour;
  if (!draft.value.names.some((n) => n.key === key))
    draft.value.names.unshift({ key, name: '', found: true });
  told.value = '';
  await nextTick();
  const field = table.value?.querySelector<HTMLInputElement>(`[data-key="${CSS.escape(key)}"] input`);
  field?.focus();
  field?.scrollIntoView({ block: 'nearest' });
}
onKeyStroke('Escape', () => emit('close'));
</script>

<template>
  <section class="maker" aria-label="ID pass">
    <form class="paper scroll" novalidate @submit.prevent="emit('keep', row.layer, useOf(draft))">
      <h2>ID pass</h2>
      <label
        >Pass
        <ElSelect
          :model-value="row.layer"
          size="small"
          filterable
          aria-label="Pass"
          @update:model-value="(l: string) => emit('open', l)"
        >
          <ElOption v-for="r in rows" :key="r.layer" :value="r.layer" :label="r.layer">
            {{ r.layer }} <span class="quiet">{{ ROLES.find((k) => k.role === r.use?.role)?.label }}</span>
          </ElOption>
        </ElSelect>
      </label>
      <label
        >It is
        <ElSelect v-model="draft.role" size="small" aria-label="It is">
          <ElOption value="pass" label="no ID pass" />
          <ElOption v-for="k in fitting" :key="k.role" :value="k.role" :label="k.label" />
        </ElSelect>
      </label>
      <p class="quiet">
        {{ kind?.purpose ?? 'Its values are light or data; nothing is picked from it.' }}
        <template v-if="row.by === 'name' && draft.role === row.use?.role">Its name says so.</template>
      </p>

      <label
        v-if="(draft.role === 'object-buffer' || draft.role === 'number-pass') && row.channels.length > 1"
        >Channel
        <ElSelect v-model="draft.channel" size="small" clearable placeholder="the first" aria-label="Channel">
          <ElOption v-for="c in row.channels" :key="c" :value="c" :label="c" />
        </ElSelect>
      </label>
      <template v-if="draft.role === 'object-buffer'">
        <label
          >Number
          <ElInputNumber v-model="draft.number" size="small" :min="0" :controls="false" aria-label="Number"
        /></label>
        <label>Name <ElInput v-model="draft.name" size="small" maxlength="200" aria-label="Name" /></label>
      </template>
      <template v-else-if="draft.role === 'puzzle-matte'">
        <div v-for="s in draft.slots" :key="s.letter" class="slot">
          <i :class="s.letter" />
          <ElInput
            v-model="s.name"
            size="small"
            maxlength="200"
            :disabled="!s.used"
            placeholder="name or number"
            :aria-label="SLOTS[s.letter]"
          />
          <ElCheckbox v-model="s.used" size="small" :aria-label="`${SLOTS[s.letter]} is used`"
            >used</ElCheckbox
          >
        </div>
      </template>
      <template v-else-if="unseen">
        <label v-if="draft.role === 'flat-colour'"
          >Outlined
          <ElSelect v-model="draft.outlined" size="small" clearable placeholder="none" aria-label="Outlined">
            <ElOption v-for="t in twins" :key="t.layer" :value="t.layer" :label="t.layer" />
          </ElSelect>
        </label>
        <p class="quiet">Click at a thing in the picture to name it.</p>
        <ElCheckbox v-if="draft.role === 'flat-colour'" v-model="onlyHere" size="small"
          >Only what hangs together there</ElCheckbox
        >
        <div ref="table" class="names">
          <div v-for="n in draft.names" :key="n.key" class="slot" :data-key="n.key">
            <i
              v-if="draft.role === 'flat-colour'"
              :style="{ background: n.key.slice(0, 7) }"
              :title="n.key"
            /><b v-else>{{ n.key }}</b>
            <ElInput
              v-model="n.name"
              size="small"
              maxlength="200"
              :placeholder="n.found ? n.key : `${n.key}, not in this frame`"
              :aria-label="`Name of ${n.key}`"
            />
          </div>
        </div>
      </template>
      <p v-if="told" role="status">{{ told }}</p>
      <template v-if="offers.length">
        <h3>Said in other shots</h3>
        <ul>
          <li v-for="o in offers" :key="o.shot">
            <button class="plain-button cut" type="button" @click="takeOver(o)">As in {{ o.shot }}</button>
          </li>
        </ul>
      </template>
      <div class="ends">
        <ElButton size="small" @click="emit('close')">Close</ElButton>
        <ElButton size="small" type="primary" native-type="submit">Save</ElButton>
      </div>
    </form>
    <div class="stage" :class="{ aims: unseen }" @click="point">
      <ShownCanvas :shown="shown" class="whole" />
    </div>
  </section>
</template>

<style scoped src="./maker.css"></style>
<style scoped>
label:not(.el-checkbox) {
  display: grid;
  grid-template-columns: 72px 1fr;
  align-items: center;
  margin: 6px 0;
}
label :deep(.el-input-number) {
  width: 100%;
}
p {
  margin: 6px 0;
}
.quiet {
  color: var(--ink-quiet);
}
.names {
  margin-top: 6px;
}
.slot {
  display: flex;
  align-items: center;
  gap: 7px;
  margin: 5px 0;
}
.slot i {
  width: 18px;
  height: 18px;
  flex: none;
  border: 1px solid var(--paper-line);
}
.slot b {
  min-width: 30px;
  text-align: right;
  font-weight: 600;
}
.r {
  background: #d64545;
}
.g {
  background: #4a9c4e;
}
.b {
  background: #4468c9;
}
.ends {
  position: sticky;
  bottom: -12px;
  display: flex;
  justify-content: flex-end;
  margin: 14px -14px 0;
  padding: 8px 14px 10px;
  background: var(--paper);
}
li button {
  text-decoration: underline;
}
.aims {
  cursor: crosshair;
}
</style>
