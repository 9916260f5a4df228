<script setup lang="ts">
import { ElInput } from 'element-plus';
import { Search } from '@lucide/vue';
import { computed, onScopeDispose, ref, watch } from 'vue';
import { matchMembers } from '@zesty-crow/core';
import { usePicture } from '../../picture/picture.ts';
import { layerLabel } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { useRecentPicks } from './recent-picks.ts';
import { usePicking } from '../use-picking.ts';

/** Finds members by name or by a rule; what is found is shown in the picture while one types. */
const picture = usePicture();
const view = useView();
const picking = usePicking();
const recent = useRecentPicks();
const search = ref('');
const focused = ref(false);

const FEW = 60;
const FEW_RECENT = 6;

const layer = computed(() => picture.cast.find((l) => l.name === view.layer));
const text = computed(() => search.value.trim());
/** What is typed is a rule if it has a wildcard, otherwise a part of the name. */
const isRule = computed(() => /[*?]/.test(text.value));
const found = computed(() =>
  text.value && layer.value
    ? matchMembers(isRule.value ? text.value : `*${text.value}*`, layer.value.members)
    : [],
);
const ids = computed(() => found.value.map((m) => m.id));
const show = (some: readonly number[]) => void picking.show(layer.value?.name, some);
watch(ids, (now) => show(now));
onScopeDispose(() => void picking.show());

/** Of what was picked last, what this frame has. */
const lately = computed(() =>
  recent.picks
    .filter((p) => {
      const own = picture.cast.find((l) => l.name === p.layer);
      return own && matchMembers(p.member, own.members).length > 0;
    })
    .slice(0, FEW_RECENT),
);
function takeRecent(pick: { layer: string; member: string; rule?: boolean }): void {
  if (pick.rule) return picking.takeRule(pick.layer, pick.member);
  const own = picture.cast.find((l) => l.name === pick.layer);
  picking.take(pick.layer, matchMembers(pick.member, own?.members ?? []));
}

function addRule(): void {
  if (!isRule.value || found.value.length === 0) return;
  picking.takeRule(view.layer!, text.value);
  search.value = '';
}
function enter(): void {
  if (isRule.value) addRule();
  else if (found.value.length === 1) picking.take(view.layer!, found.value);
}
</script>

<template>
  <div class="find" @focusin="focused = true" @focusout="focused = false">
    <ElInput
      v-model="search"
      size="small"
      clearable
      :prefix-icon="Search"
      :placeholder="`Find in ${view.layer ? layerLabel(view.layer) : 'the picture'}, or a rule: bee_*`"
      aria-label="Find members"
      @keydown.enter="enter"
    />
    <div v-if="text" class="found scroll">
      <button v-if="isRule && found.length" class="plain-button rule-row" type="button" @click="addRule">
        Put in the rule <b>{{ text }}</b>, {{ found.length }} now
      </button>
      <p v-if="found.length === 0" class="paper-hint">
        Nothing among {{ layerLabel(view.layer ?? '') }} is called that.
      </p>
      <button
        v-for="m in found.slice(0, FEW)"
        :key="m.id"
        class="plain-button member"
        type="button"
        :aria-pressed="picking.isChosen(view.layer!, m)"
        @mouseenter="show([m.id])"
        @mouseleave="show(ids)"
        @click="picking.take(view.layer!, [m])"
      >
        <span class="tick">{{ picking.isChosen(view.layer!, m) ? '✓' : '' }}</span>
        <span class="cut">{{ m.name }}</span>
        <span class="area">{{ Math.round(m.coverage).toLocaleString('en') }} px</span>
      </button>
      <p v-if="found.length > FEW" class="paper-hint">and {{ found.length - FEW }} more</p>
    </div>
    <div v-else-if="focused && lately.length" class="found lately" aria-label="Picked lately">
      <button
        v-for="p in lately"
        :key="`${p.layer} ${p.member}`"
        class="plain-button member"
        type="button"
        @mousedown.prevent
        @click="takeRecent(p)"
      >
        <span class="cut" :class="{ rule: p.rule }">{{ p.member }}</span>
        <span class="area">{{ layerLabel(p.layer, true) }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.find {
  position: relative;
}
/* Over what follows: nothing shall move under a click that closes it. */
.lately {
  position: absolute;
  z-index: 3;
  right: 0;
  left: 0;
  box-shadow: 0 2px 8px rgb(0 0 0 / 18%);
}
.found {
  max-height: 210px;
  margin-top: 4px;
  background: var(--paper-bright);
  border: 1px solid var(--paper-line);
}
.found .paper-hint {
  margin: 6px 8px;
}
.member,
.rule-row {
  display: flex;
  gap: 6px;
  width: 100%;
  padding: 3px 8px;
  text-align: left;
}
.member:hover,
.rule-row:hover {
  background: var(--paper-shade);
}
.member .cut {
  flex: 1;
}
.cut.rule {
  font-style: italic;
}
.tick {
  width: 12px;
}
.area {
  color: var(--ink-quiet);
  font-size: 13px;
}
</style>
