<script setup lang="ts">
import { ElInput, ElOption, ElSelect } from 'element-plus';
import { Search, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { isIn, matchMembers, putIn, putOut, type Change, type MemberPick } from '@zesty-crow/core';
import { usePicture } from '../picture/picture.ts';
import { useChanges } from './changes.ts';
import { layerLabel } from './layer-label.ts';
import { useLook } from './look.ts';

const props = defineProps<{ change: Change }>();
const changes = useChanges();
const picture = usePicture();
const view = useLook();
const search = ref('');

const MODES: Record<MemberPick['mode'], string> = { with: 'with', without: 'without', inside: 'only inside' };
const FEW = 60;

const layer = computed(() => picture.cast.find((l) => l.name === view.layer));
/** What is typed is a rule if it has a wildcard, otherwise a part of the name. */
const isRule = computed(() => /[*?]/.test(search.value));
const found = computed(() => {
  const text = search.value.trim();
  if (!text || !layer.value) return [];
  return matchMembers(isRule.value ? text : `*${text}*`, layer.value.members);
});
/** Whether the frame can say of a pick that it is not there. */
const known = (pick: MemberPick): boolean => {
  if (!picture.opened) return false;
  const own = picture.cast.find((l) => l.name === pick.layer);
  return !own || own.state === 'there';
};
/** Neither seen in this frame nor in the layer's list of names. */
const lost = (pick: MemberPick): boolean => {
  // Until its layer is read, nobody knows.
  if (!known(pick)) return false;
  const unseen = picture.cast.find((l) => l.name === pick.layer)?.unseen ?? [];
  return (
    matches(pick) === 0 &&
    matchMembers(
      pick.member,
      unseen.map((name) => ({ name, id: -1 })),
    ).length === 0
  );
};
const matches = (pick: MemberPick): number => {
  const members = picture.cast.find((l) => l.name === pick.layer)?.members ?? [];
  return matchMembers(pick.member, members).length;
};

function update(who: MemberPick[], label: string): void {
  changes.setWho(who);
  void changes.commit(label.slice(0, 200));
}
function setMode(at: number, mode: MemberPick['mode']): void {
  update(
    props.change.who.map((p, i) => (i === at ? { ...p, mode } : p)),
    `${MODES[mode]} ${props.change.who[at]!.member}`,
  );
}
function remove(at: number): void {
  update(
    props.change.who.filter((_, i) => i !== at),
    `Remove ${props.change.who[at]!.member}`,
  );
}
function toggle(member: { name: string; id: number }): void {
  const { who } = props.change;
  const inside = isIn(who, view.layer!, member);
  update(
    inside ? putOut(who, view.layer!, member) : putIn(who, view.layer!, member),
    `${inside ? 'Take out' : 'Put in'} ${member.name}`,
  );
}
function addRule(): void {
  const member = search.value.trim();
  if (!member || !isRule.value || found.value.length === 0) return;
  update([...props.change.who, { mode: 'with', layer: view.layer!, member, rule: true }], `Put in ${member}`);
  search.value = '';
}
</script>

<template>
  <section>
    <h3 class="paper-heading">Who</h3>
    <ul v-if="change.who.length" class="picks scroll">
      <li v-for="(pick, i) in change.who" :key="`${pick.layer} ${pick.member} ${pick.mode}`">
        <ElSelect
          :model-value="pick.mode"
          size="small"
          :aria-label="`How ${pick.member} counts`"
          @update:model-value="setMode(i, $event)"
        >
          <ElOption v-for="(label, mode) in MODES" :key="mode" :value="mode" :label="label" />
        </ElSelect>
        <span
          class="name"
          :class="{ rule: pick.rule, lost: lost(pick), unseen: known(pick) && matches(pick) === 0 }"
          :title="`${pick.member} (${pick.layer})${lost(pick) ? ': not in this version' : known(pick) && matches(pick) === 0 ? ': not seen in this frame' : ''}`"
        >
          {{ pick.member }}<template v-if="pick.rule && known(pick)"> ({{ matches(pick) }})</template>
          <small>{{ layerLabel(pick.layer, true) }}</small>
        </span>
        <button class="plain-button" type="button" :aria-label="`Remove ${pick.member}`" @click="remove(i)">
          <X :size="14" :stroke-width="1.6" />
        </button>
      </li>
    </ul>
    <p v-else class="paper-hint">Click things in the picture, or drag across many.</p>
    <ElInput
      v-model="search"
      size="small"
      clearable
      :prefix-icon="Search"
      :placeholder="`Find in ${view.layer ? layerLabel(view.layer) : 'the picture'}, or a rule: bee_*`"
      aria-label="Find members"
      @keydown.enter="addRule"
    />
    <div v-if="search.trim()" class="found scroll">
      <button v-if="isRule && found.length" class="plain-button rule-row" type="button" @click="addRule">
        Put in the rule <b>{{ search.trim() }}</b>, {{ found.length }} now
      </button>
      <p v-if="found.length === 0" class="paper-hint">
        Nothing among {{ layerLabel(view.layer ?? '') }} is called that.
      </p>
      <button
        v-for="m in found.slice(0, FEW)"
        :key="m.id"
        class="plain-button member"
        type="button"
        :aria-pressed="isIn(change.who, view.layer!, m)"
        @click="toggle(m)"
      >
        <span class="tick">{{ isIn(change.who, view.layer!, m) ? '✓' : '' }}</span>
        <span class="cut">{{ m.name }}</span>
        <span class="area">{{ Math.round(m.coverage).toLocaleString('en') }} px</span>
      </button>
      <p v-if="found.length > FEW" class="paper-hint">and {{ found.length - FEW }} more</p>
    </div>
  </section>
</template>

<style scoped>
.picks {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  max-height: 168px;
}
.picks li {
  display: grid;
  grid-template-columns: 78px minmax(0, 1fr) 18px;
  align-items: center;
  gap: 4px;
  min-height: 27px;
}
.picks :deep(.el-select__wrapper) {
  min-height: 22px;
  box-shadow: none;
  background: transparent;
  padding-left: 0;
  color: var(--ink-quiet);
}
.name {
  overflow-wrap: anywhere;
}
.name small {
  white-space: nowrap;
  margin-left: 4px;
  color: var(--ink-quiet);
  font-style: normal;
}
.name.rule {
  font-style: italic;
}
.name.unseen {
  color: var(--ink-quiet);
}
.name.lost {
  color: var(--alarm);
}
.found {
  max-height: 210px;
  margin-top: 4px;
  background: #fffdf8;
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
.tick {
  width: 12px;
}
.area {
  color: var(--ink-quiet);
  font-size: 13px;
}
</style>
