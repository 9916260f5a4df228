<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { turnRound, united, type MemberPick } from '@zesty-crow/core';
import { usePicture } from '../../picture/picture.ts';
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import FindMembers from './FindMembers.vue';
import { useView } from '../../shot/view.ts';
import { pickWarnings, type PickWarning } from './pick-facts.ts';
import PickRow from './PickRow.vue';
import { usePicking } from '../use-picking.ts';

/** Rows that are shown at once; lists of thousands come from scripts, and nobody reads them. */
const MOST_ROWS = 100;

/** Who a change concerns: a short list of picks, what is worth a look about them, and a field to find more. */
const props = defineProps<{ owner: Owner }>();
const changes = useChanges();
const picture = usePicture();
const picking = usePicking();
const view = useView();

// It is meant by its place in this very choice.
const whole = ref(false);
const shown = computed(() => (whole.value ? props.owner.who : props.owner.who.slice(0, MOST_ROWS)));
watch(
  () => props.owner.id,
  () => {
    view.swapping = undefined;
    whole.value = false;
  },
);
const warnings = computed(() => pickWarnings(props.owner.who, picture.cast));
/** One kind is told by what clicks take from. */
const kinds = computed(() => props.owner.who.some((p) => p.layer !== view.layer));
const members = (layer: string) => picture.cast.find((l) => l.name === layer)?.members ?? [];

const withPick = (at: number, pick: MemberPick) => props.owner.who.map((p, i) => (i === at ? pick : p));
function change(at: number, pick: MemberPick, label?: string): void {
  if (label === undefined) changes.setWho(withPick(at, pick));
  else picking.set(withPick(at, pick), label);
}
function remove(at: number): void {
  view.swapping = undefined;
  void picking.show();
  picking.set(
    props.owner.who.filter((_, i) => i !== at),
    `Remove ${props.owner.who[at]!.member}`,
  );
}
const turn = () => picking.set(turnRound(props.owner.who, members), 'Take all but these');
/** The rule takes the place of the members that it brings. */
function mend({ add }: PickWarning): void {
  if (add) picking.takeRule(add.layer, add.member);
}
/** What was meant as it is: the others are left out on purpose. */
function leave({ add, layer, ids }: PickWarning): void {
  if (!add) return;
  const out = members(layer).filter((m) => ids.includes(m.id));
  picking.set(
    united(
      props.owner.who,
      out.map((m) => ({ mode: 'without', layer, member: m.name })),
    ),
    `Leave out ${out.length}`,
  );
}
</script>

<template>
  <section aria-label="Who">
    <ul v-if="owner.who.length" class="picks scroll">
      <PickRow
        v-for="(pick, i) in shown"
        :key="`${pick.layer} ${pick.member} ${pick.mode}`"
        :pick="pick"
        :at="i"
        :kinds="kinds"
        @change="(next, label) => change(i, next, label)"
        @commit="changes.commit($event)"
        @remove="remove(i)"
      />
    </ul>
    <button
      v-if="shown.length < owner.who.length"
      class="plain-button quiet-button more"
      type="button"
      @click="whole = true"
    >
      Show all {{ owner.who.length.toLocaleString('en') }}
    </button>
    <p v-if="owner.who.length === 0" class="paper-hint">
      {{
        'corrections' in owner
          ? 'Click things in the picture, or drag across many.'
          : 'Nobody: a fence alone limits all that stands under it.'
      }}
    </p>
    <div v-for="w in warnings" :key="w.key" class="warning" role="note">
      <button
        class="plain-button"
        type="button"
        :disabled="w.ids.length === 0"
        @mouseenter="picking.show(w.layer, w.ids)"
        @mouseleave="picking.show()"
        @click="picking.show(w.layer, w.ids)"
      >
        {{ w.text }}
      </button>
      <span v-if="w.add" class="acts">
        <button class="plain-button quiet-button" type="button" @click="mend(w)">Take them too</button>
        <button class="plain-button quiet-button" type="button" @click="leave(w)">Leave out</button>
      </span>
    </div>
    <div class="find-line">
      <FindMembers />
      <button
        v-if="owner.who.some((p) => p.mode === 'with')"
        class="plain-button quiet-button"
        type="button"
        title="Take everything else instead of these"
        @click="turn"
      >
        All but these
      </button>
    </div>
  </section>
</template>

<style scoped>
.find-line {
  display: flex;
  gap: 8px;
  align-items: flex-start;
}
.find-line > :first-child {
  flex: 1;
  min-width: 0;
}
.more {
  margin-bottom: 8px;
}
.picks {
  list-style: none;
  margin: 0 0 3px;
  padding: 0;
  max-height: 236px;
}
.warning {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  margin: 0 0 6px;
  padding: 3px 8px;
  border-left: 3px solid var(--lemon);
  background: var(--paper-shade);
  font-size: 13px;
}
.acts {
  display: flex;
  gap: 10px;
}
.warning > :first-child {
  text-align: left;
}
.warning button:disabled {
  opacity: 1;
}
</style>
