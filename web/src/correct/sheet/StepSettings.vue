<script setup lang="ts">
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
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import type { StepList } from '../../shot/changes/step-kinds.ts';
import { useView } from '../../shot/view.ts';
import { FACTS } from '../facts/registry.ts';
import FollowChoice from '../frames/FollowChoice.vue';
import StepKeys from '../frames/StepKeys.vue';
import OwnValues from '../variants/OwnValues.vue';
import { cornersOf } from './corners.ts';
import { useSpreads } from './use-spreads.ts';

/** All that can be set of one step: its own values, and in a line what it is limited to. */
const props = defineProps<{ change: Owner; list: StepList; use: StepUse }>();
const changes = useChanges();
const picture = usePicture();
const view = useView();

const kind = computed(() => props.list.kinds.find((k) => k.kind === props.use.kind));
/** What is to be known about it, beside its settings. */
const facts = computed(() => FACTS[props.use.kind]);
const numbers = computed(() => correctionOf(props.use.kind)?.numbers);
const fields = computed(() => [...(kind.value?.fields ?? []), AMOUNT]);
/** The part's own colours along its curves. */
const spreads = useSpreads(
  () => props.change,
  () => fields.value,
  () => true,
);
/** Points are moved in the picture. */
const drawn = computed(() => fields.value.some((f) => f.kind === 'points'));
const groups = computed(() => kind.value?.limits ?? []);
const isSet = (f: Field) => props.use.values[f.key] !== undefined;
/** Limits by another pass are there where the version has one, or has them set. */
const limits = computed(() =>
  groups.value.filter(({ fields: own }) => {
    const by = own.find((f) => f.kind === 'pass');
    return !by || passesFor(by, picture.opened?.passes ?? []).length > 0 || own.some(isSet);
  }),
);
const limited = computed(() => limits.value.filter((g) => g.fields.some(isSet)).map((g) => g.title));
/** It is limited to some pixels, which can be shown as a mask. */
const masked = computed(() => 'corrections' in props.change && limitsOf(props.use.values) !== undefined);
const limitShown = computed(() => view.mode === 'mask' && view.limitOf === props.use.id);

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
function showLimit(): void {
  const on = !limitShown.value;
  view.limitOf = on ? props.use.id : undefined;
  view.mode = on ? 'mask' : 'picture';
}
</script>

<template>
  <div class="settings">
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
      :dragging="f.kind === 'number' && f.inPicture ? view.dragged?.what === `${use.id} ${f.key}` : undefined"
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
    <details v-if="limits.length" class="only" :open="limited.length > 0">
      <summary :title="numbers">
        {{ limited.length ? `Only ${limited.join(', ').toLowerCase()}` : 'Only where…' }}
      </summary>
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
      <button
        v-if="masked"
        class="plain-button quiet-button"
        type="button"
        :aria-pressed="limitShown"
        @click="showLimit"
      >
        {{ limitShown ? 'Show the picture again' : 'Show the limit as a mask' }}
      </button>
    </details>
    <StepKeys
      v-if="changes.frame !== undefined && !changes.variant"
      :change="change"
      :list="list.name"
      :use="use"
      :fields="[...fields, ...groups.flatMap((g) => g.fields)]"
      :value-of="valueOf"
    />
  </div>
</template>

<style scoped>
.settings {
  padding: 0 0 3px;
}
details > summary {
  padding: 2px 0;
  color: var(--ink-quiet);
  cursor: pointer;
}
.only details {
  margin-left: 10px;
}
</style>
