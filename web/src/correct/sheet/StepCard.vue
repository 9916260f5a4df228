<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu, ElSwitch } from 'element-plus';
import { ChevronDown, ChevronRight, Ellipsis, GripVertical } from '@lucide/vue';
import { computed, ref } from 'vue';
import { valueAt, type StepUse } from '@zesty-crow/core/changes';
import { correctionOf, limitsOf } from '@zesty-crow/core/corrections';
import {
  AMOUNT,
  colourWithin,
  passesFor,
  type Field,
  type FieldValue,
  type NumberField,
} from '@zesty-crow/core/fields';
import FieldControl from '../../fields/FieldControl.vue';
import { usePicture } from '../../picture/picture.ts';
import { api } from '../../server/api.ts';
import { notifyError } from '../../server/notify.ts';
import { stepsIn, useChanges, type Owner } from '../../shot/changes/changes.ts';
import { cornersOf } from './corners.ts';
import { describeValues } from '@zesty-crow/core/fields';
import { FACTS } from '../facts/registry.ts';
import FollowChoice from '../frames/FollowChoice.vue';
import StepKeys from '../frames/StepKeys.vue';
import { useLook } from '../../shot/look.ts';
import { keepPreset } from './presets.ts';
import type { StepList } from '../../shot/changes/step-kinds.ts';
import { useSpreads } from './use-spreads.ts';
import OwnValues from '../variants/OwnValues.vue';

/** One step of a change: a line with its values, and under it, once it is unfolded, all that can be set. */
const props = defineProps<{ change: Owner; list: StepList; use: StepUse; at: number; unfolded: boolean }>();
defineEmits<{ flip: [] }>();
const changes = useChanges();
const picture = usePicture();
const view = useLook();

const kind = computed(() => props.list.kinds.find((k) => k.kind === props.use.kind));
/** What is to be known about it, beside its settings. */
const facts = computed(() => FACTS[props.use.kind]);
const numbers = computed(() => correctionOf(props.use.kind)?.numbers);
const label = computed(() => kind.value?.label ?? props.use.kind);
const fields = computed(() => [...(kind.value?.fields ?? []), AMOUNT]);
/** The part's own colours along its curves. */
const spreads = useSpreads(
  () => props.change,
  () => fields.value,
  () => props.unfolded,
);
/** Points are moved in the picture. */
const drawn = computed(() => fields.value.find((f) => f.kind === 'points'));
const groups = computed(() => kind.value?.limits ?? []);
const isSet = (f: Field) => props.use.values[f.key] !== undefined;
/** Limits by another pass are there where the version has one, or has them set. */
const limits = computed(() =>
  groups.value.filter(({ fields: own }) => {
    const by = own.find((f) => f.kind === 'pass');
    return !by || passesFor(by, picture.opened?.passes ?? []).length > 0 || own.some(isSet);
  }),
);
/** It is limited to some pixels, which can be shown as a mask. */
const masked = computed(() => 'corrections' in props.change && limitsOf(props.use.values) !== undefined);
const limited = computed(() => props.list.isLimited(props.use.values));
const summary = computed(() => describeValues(kind.value?.fields ?? [], props.use.values, limited.value));
const limitShown = computed(() => view.look === 'mask' && view.limitOf === props.use.id);
/** A pass that it reads and that this version has not. */
const lost = computed(() => {
  if (!picture.opened) return undefined;
  const names = fields.value.flatMap((f) =>
    f.kind === 'pass' ? [(props.use.values[f.key] as string | undefined) ?? ''] : [],
  );
  return names.find((n) => n !== '' && !picture.opened!.passes.includes(n));
});

/** At the frame that is open. */
function valueOf(field: Field): FieldValue | undefined {
  const own = changes.frame === undefined ? undefined : props.use.keys?.[field.key];
  return own ? valueAt(own, changes.frame!) : (props.use.values[field.key] ?? field.neutral);
}
function set(key: string, value: FieldValue): void {
  changes.setValues(props.change, props.list.name, props.use.id, { [key]: value });
}
/** What a colour of the picture goes into. */
function takeColour(field: Field): void {
  if (field.kind !== 'colour') return;
  const { key, label } = field;
  view.takeColour(`${props.use.id} ${key}`, (colour) => {
    set(key, colourWithin(field, colour));
    void changes.commit(label);
  });
}
/** Lets a number be dragged in the picture: as many steps as pixels, within what its slider spans. */
function dragValue(field: NumberField): void {
  const { key, step, neutral, label, min, max } = field;
  let from = neutral;
  view.dragValue({
    what: `${props.use.id} ${key}`,
    begin: () => (from = (valueOf(field) as number | undefined) ?? neutral),
    move(by) {
      view.adjusting = true;
      const steps = Math.round(from / step) + Math.round(by / 2);
      set(key, Math.min(max, Math.max(min, Number((steps * step).toFixed(4)))));
    },
    end() {
      view.adjusting = false;
      void changes.commit(label);
    },
  });
}

// ---- a picture file

const sending = ref(false);
/** Sends it, and lays it over the part until it is moved. */
async function lay(file: File): Promise<void> {
  const field = fields.value.find((f) => f.kind === 'picture');
  const corners = fields.value.find((f) => f.kind === 'points');
  if (!field || !changes.shotId) return;
  sending.value = true;
  const stored = await api.uploadPicture(changes.shotId, file);
  const around = corners && !isSet(corners) && (await picture.partBounds(props.change.id));
  if (around && picture.size) set(corners.key, cornersOf(around, picture.size));
  set(field.key, { file: stored.id, name: stored.name });
  await changes.commit(`Lay ${stored.name} on it`);
}
function flipOn(on: boolean): void {
  changes.setStepOn(props.change, props.list.name, props.use.id, on);
}
function showLimit(): void {
  const on = !limitShown.value;
  view.limitOf = on ? props.use.id : undefined;
  view.look = on ? 'mask' : 'picture';
}
const others = computed(() => changes.list.changes.filter((c) => c.id !== props.change.id));
const last = computed(() => stepsIn(props.change, props.list.name).length - 1);

const COMMANDS: Record<string, (more: string) => void> = {
  up: () => changes.moveStep(props.change, props.list.name, props.at, props.at - 1),
  down: () => changes.moveStep(props.change, props.list.name, props.at, props.at + 1),
  reset: () => changes.resetStep(props.change, props.list.name, props.use.id),
  remove: () => changes.removeStep(props.change, props.list.name, props.use.id),
  copy: (to) => changes.copyStep(props.use, props.list.name, to),
  keep: () => void keepPreset([props.use], label.value).catch(notifyError),
};
function command(text: string): void {
  const [name, ...more] = text.split(' ');
  COMMANDS[name!]!(more.join(' '));
}
</script>

<template>
  <li :class="{ off: !use.on, unfolded }">
    <header>
      <span class="grip" aria-hidden="true"><GripVertical :size="14" :stroke-width="1.5" /></span>
      <button
        class="plain-button title"
        type="button"
        :aria-expanded="unfolded"
        :aria-label="label"
        :title="`${label}${summary ? `: ${summary}` : ''}`"
        @click="$emit('flip')"
      >
        <component :is="unfolded ? ChevronDown : ChevronRight" :size="14" />
        <strong class="cut">{{ unfolded ? label : (kind?.short ?? label) }}</strong>
        <span v-if="!unfolded" class="summary cut">{{ summary }}</span>
      </button>
      <ElSwitch
        class="paper-switch"
        :model-value="use.on"
        size="small"
        :aria-label="`Apply ${label}`"
        @update:model-value="flipOn($event === true)"
      />
      <ElDropdown trigger="click" :persistent="false" @command="command">
        <button class="plain-button more" type="button" :aria-label="`More for ${label}`">
          <Ellipsis :size="16" />
        </button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem command="up" :disabled="at === 0">Move up</ElDropdownItem>
            <ElDropdownItem command="down" :disabled="at === last">Move down</ElDropdownItem>
            <ElDropdownItem command="reset">Reset all values</ElDropdownItem>
            <ElDropdownItem command="remove">Remove</ElDropdownItem>
            <ElDropdownItem v-if="list.name === 'corrections'" command="keep"
              >Keep as a preset…</ElDropdownItem
            >
            <ElDropdownItem v-for="(c, i) in others" :key="c.id" :command="`copy ${c.id}`" :divided="i === 0">
              <span class="copy">Copy to “{{ c.words || 'New change' }}”</span>
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </header>
    <p v-if="lost !== undefined" class="lost">The pass “{{ lost }}” is not in this version.</p>
    <div v-if="unfolded" class="settings">
      <OwnValues :change="change" :use="use" :fields="[...fields, ...groups.flatMap((g) => g.fields)]" />
      <p v-if="drawn" class="paper-hint">
        {{
          list.name === 'fence'
            ? 'Drag the points in the picture. Click the line to add one, double-click one to remove it.'
            : 'Drag its corners in the picture; the dot in the middle moves all of it.'
        }}
      </p>
      <FieldControl
        v-for="f in fields.filter((g) => g.kind !== 'points')"
        :key="f.key"
        :field="f"
        :passes="picture.opened?.passes ?? []"
        :model-value="valueOf(f)"
        :spread="spreads[f.key]"
        :taking="f.kind === 'colour' ? view.sampling === `${use.id} ${f.key}` : undefined"
        :sending="sending"
        :dragging="
          f.kind === 'number' && f.inPicture ? view.dragged?.what === `${use.id} ${f.key}` : undefined
        "
        @drag="f.kind === 'number' && dragValue(f)"
        @update:model-value="set(f.key, $event)"
        @moving="view.adjusting = $event"
        @commit="changes.commit(f.label)"
        @take="takeColour(f)"
        @file="
          lay($event)
            .catch(notifyError)
            .finally(() => (sending = false))
        "
      />
      <FollowChoice
        v-if="list.name === 'fence' && (changes.frame !== undefined || use.follow)"
        :owner="change"
        :use="use"
      />
      <component :is="facts" v-if="facts && 'corrections' in change" :change="change" :use="use" />
      <details v-for="group in limits" :key="group.title" :open="group.fields.some(isSet)">
        <summary>{{ group.title }}</summary>
        <FieldControl
          v-for="f in group.fields"
          :key="f.key"
          :field="f"
          :passes="picture.opened?.passes ?? []"
          :model-value="valueOf(f)"
          @update:model-value="set(f.key, $event)"
          @moving="view.adjusting = $event"
          @commit="changes.commit(f.label)"
        />
      </details>
      <details v-if="numbers">
        <summary>How it is calculated</summary>
        <p class="paper-hint">{{ numbers }}</p>
      </details>
      <StepKeys
        v-if="changes.frame !== undefined && !changes.variant"
        :change="change"
        :list="list.name"
        :use="use"
        :fields="[...fields, ...groups.flatMap((g) => g.fields)]"
        :value-of="valueOf"
      />
      <button
        v-if="masked"
        class="plain-button show-limit"
        type="button"
        :aria-pressed="limitShown"
        @click="showLimit"
      >
        {{ limitShown ? 'Show the picture again' : 'Show the limit as a mask' }}
      </button>
    </div>
  </li>
</template>

<style scoped>
li {
  border-top: 1px solid var(--paper-line);
}
li:last-child {
  border-bottom: 1px solid var(--paper-line);
}
header {
  display: flex;
  align-items: center;
  gap: 5px;
  min-height: 30px;
}
.grip {
  display: grid;
  margin-left: -14px;
  color: var(--ink-quiet);
  cursor: grab;
}
.title {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 5px;
  min-width: 0;
  padding: 4px 0;
  text-align: left;
}
.title svg {
  flex: none;
}
.title strong {
  flex: 0 1 auto;
  font-weight: 550;
}
.summary {
  flex: 1 2 40%;
  min-width: 0;
  color: var(--ink-quiet);
}
header :deep(.el-switch__core) {
  min-width: 26px;
}
.more {
  display: grid;
  padding: 4px 0;
}
/* Off, and still to be read: the name is struck through, its values are dimmed as what cannot be used is. */
.off .title strong {
  color: var(--ink-quiet);
  text-decoration: line-through;
}
.off .settings {
  opacity: 0.5;
}
.settings {
  padding: 0 0 8px;
}
.lost {
  margin: 0 0 6px;
  color: var(--alarm);
}
.copy {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
details {
  margin-top: 4px;
}
details > summary {
  padding: 3px 0;
  color: var(--ink-quiet);
  cursor: pointer;
}
.show-limit {
  padding: 3px 0;
  text-decoration: underline;
}
</style>
