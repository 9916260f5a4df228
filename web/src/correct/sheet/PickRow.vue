<script setup lang="ts">
import { ElDropdown, ElDropdownItem, ElDropdownMenu, ElOption, ElSelect } from 'element-plus';
import { Ellipsis, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { groupRule, likeName, matchMembers, type MemberPick } from '@zesty-crow/core';
import { usePicture } from '../../picture/picture.ts';
import { layerLabel, seenElsewhere } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { factsOf } from './pick-facts.ts';
import PickAmounts from './PickAmounts.vue';
import { PICK_MODES } from './pick-modes.ts';
import { usePicking } from '../use-picking.ts';

/** One pick: how it counts, who it is, how much of the frame that is, and what can be done with it. */
const props = defineProps<{
  pick: MemberPick;
  at: number;
  /** Say of which kind it is: not all picks are of one. */
  kinds: boolean;
}>();
const emit = defineEmits<{
  /** The pick as it is to be; without a label it still moves. */
  change: [pick: MemberPick, label?: string];
  remove: [];
  /** What moved has come to rest: one step of the history. */
  commit: [label: string];
}>();
const picture = usePicture();
const view = useView();
const picking = usePicking();

const pixels = computed(() => (picture.size ? picture.size.width * picture.size.height : 1));
const facts = computed(() =>
  picture.opened
    ? factsOf(props.pick, picture.cast, pixels.value)
    : { known: false, ids: [], share: 0, lost: false },
);
const unseen = computed(() => facts.value.known && facts.value.ids.length === 0);
const share = computed(() => {
  if (!facts.value.known || unseen.value) return '';
  const percent = 100 * facts.value.share;
  return percent < 0.1 ? '< 0.1 %' : `${percent.toFixed(percent < 9.95 ? 1 : 0)} %`;
});
const title = computed(() => {
  const { pick } = props;
  const why = facts.value.lost ? ': not in this version' : unseen.value ? ': not seen in this frame' : '';
  return `${pick.member} (${pick.layer})${why}. Click to see it.`;
});

/** Where else its names are seen. */
const elsewhere = computed(() =>
  props.pick.mode === 'inside'
    ? []
    : seenElsewhere(
        props.pick.layer,
        picture.cast.map((l) => l.name),
      ),
);
/** In words what is set beside the name. */
const more = computed(() => {
  const { amount, also: others } = props.pick;
  const where = (layer: string) => elsewhere.value.find((e) => e.layer === layer)?.where ?? layer;
  return [
    amount === undefined ? '' : `${Math.round(100 * amount)} %`,
    ...(others ?? []).map(
      (a) => `+ ${where(a.layer)}${a.amount < 1 ? ` ${Math.round(100 * a.amount)} %` : ''}`,
    ),
  ]
    .filter(Boolean)
    .join(', ');
});

const unfolded = ref(false);
const names = computed(() => {
  const layer = picture.cast.find((l) => l.name === props.pick.layer);
  return layer?.members ?? [];
});
const count = (rule: string) => matchMembers(rule, names.value).length;
/** Rules that would take more than this. */
const rules = computed(() => {
  if (props.pick.rule) return [];
  const all = names.value.map((m) => m.name);
  const like = likeName(props.pick.member, all);
  const group = groupRule(props.pick.member);
  return [
    ...(like === undefined ? [] : [{ rule: like, text: 'All named like this' }]),
    ...(group === undefined || group === like ? [] : [{ rule: group, text: 'All of its group' }]),
  ].map((r) => ({ ...r, count: count(r.rule) }));
});

const idsOf = (rule: string) => matchMembers(rule, names.value).map((m) => m.id);
const show = (ids: readonly number[]) => void picking.show(props.pick.layer, ids);
const hide = () => void picking.show();

const COMMANDS: Record<string, (rest: string) => void> = {
  swap: () => (view.swapping = props.at),
  amounts: () => (unfolded.value = !unfolded.value),
  rule: (rule) => picking.takeRule(props.pick.layer, rule),
  behind: () => void picking.takeByDepth(props.pick.layer, facts.value.ids, 'behind'),
  before: () => void picking.takeByDepth(props.pick.layer, facts.value.ids, 'before'),
};
function command(text: string): void {
  hide();
  const space = text.indexOf(' ');
  COMMANDS[space < 0 ? text : text.slice(0, space)]!(text.slice(space + 1));
}
/** It stays to be seen until the pointer is elsewhere, and is brought into view. */
const seen = () => void picking.reveal(props.pick.layer, facts.value.ids);
</script>

<template>
  <li :class="{ swapping: view.swapping === at }">
    <div class="line">
      <ElSelect
        :model-value="pick.mode"
        size="small"
        :aria-label="`How ${pick.member} counts`"
        @update:model-value="
          emit(
            'change',
            { ...pick, mode: $event },
            `${PICK_MODES[$event as MemberPick['mode']]} ${pick.member}`,
          )
        "
      >
        <ElOption v-for="(label, mode) in PICK_MODES" :key="mode" :value="mode" :label="label" />
      </ElSelect>
      <button
        class="plain-button name"
        type="button"
        :class="{ rule: pick.rule, lost: facts.lost, unseen }"
        :title="title"
        @mouseenter="show(facts.ids)"
        @mouseleave="hide"
        @focus="show(facts.ids)"
        @blur="hide"
        @click="seen"
      >
        <span class="cut member">{{ pick.member }}</span
        ><span v-if="pick.rule && facts.known">({{ facts.ids.length }})</span>
        <small v-if="kinds" class="cut">{{ layerLabel(pick.layer, true) }}</small>
        <small v-if="more" class="cut">{{ more }}</small>
      </button>
      <span class="share">{{ share }}</span>
      <ElDropdown trigger="click" :persistent="false" @command="command">
        <button class="plain-button icon" type="button" :aria-label="`More for ${pick.member}`">
          <Ellipsis :size="16" />
        </button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem command="swap">Swap for another…</ElDropdownItem>
            <ElDropdownItem command="amounts"
              >Amount{{ elsewhere.length ? ', glass and reflections' : '' }}</ElDropdownItem
            >
            <ElDropdownItem
              v-for="(r, i) in rules"
              :key="r.rule"
              :command="`rule ${r.rule}`"
              :divided="i === 0"
              @mouseenter="show(idsOf(r.rule))"
              @mouseleave="hide"
            >
              {{ r.text }}: <i>{{ r.rule }}</i> ({{ r.count }})
            </ElDropdownItem>
            <ElDropdownItem v-if="picture.opened?.hasDepth" command="behind" divided>
              All that is behind it
            </ElDropdownItem>
            <ElDropdownItem v-if="picture.opened?.hasDepth" command="before">
              All that is in front of it
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
      <button
        class="plain-button icon"
        type="button"
        :aria-label="`Remove ${pick.member}`"
        @click="emit('remove')"
      >
        <X :size="14" :stroke-width="1.6" />
      </button>
    </div>
    <p v-if="view.swapping === at" class="paper-hint" role="status">
      Click what should take its place, or find it below. Esc leaves it.
    </p>
    <PickAmounts
      v-if="unfolded"
      :pick="pick"
      @change="emit('change', $event)"
      @commit="emit('commit', $event)"
    />
  </li>
</template>

<style scoped>
li.swapping {
  background: var(--paper-shade);
}
.line {
  display: grid;
  grid-template-columns: 52px minmax(0, 1fr) auto 24px 24px;
  align-items: center;
  gap: 2px;
  height: 26px;
}
.line :deep(.el-select__wrapper) {
  min-height: 22px;
  box-shadow: none;
  background: transparent;
  padding-left: 0;
  color: var(--ink-quiet);
}
/* Its words say that it can be chosen; an arrow would take the room of a name. */
.line :deep(.el-select__suffix) {
  display: none;
}
.name {
  display: flex;
  align-items: baseline;
  gap: 5px;
  min-width: 0;
  min-height: 24px;
  text-align: left;
}
.member {
  flex: 0 1 auto;
  min-width: 8px;
}
.name small {
  flex: 0 2 auto;
  min-width: 0;
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
.share {
  color: var(--ink-quiet);
  font-size: 13px;
  white-space: nowrap;
}
.icon {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
}
</style>
