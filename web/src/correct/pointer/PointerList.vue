<script setup lang="ts">
import { onClickOutside, useEventListener } from '@vueuse/core';
import { computed, nextTick, onMounted, onScopeDispose, ref } from 'vue';
import { groupRule, likeName, matchMembers } from '@zesty-crow/core';
import { NO_ID } from '@zesty-crow/core/idlayers';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import type { Place } from '../../viewer/tool.ts';
import { layerLabel } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { usePicking } from '../use-picking.ts';

/** Everything at one pixel, in all layers, to be taken row by row: also what lies behind glass, or under something soft. */
const props = defineProps<{ probe: Probe; at: Place }>();
const emit = defineEmits<{ close: [] }>();
const picture = usePicture();
const view = useView();
const picking = usePicking();

const element = ref<HTMLElement>();
const corner = ref({ x: props.at.x, y: props.at.y });
const percent = (c: number) => `${(c * 100).toFixed(c < 0.0995 ? 1 : 0)} %`;

/** A layer that shows nothing here, as most through-glass layers do almost everywhere, is not worth a row. */
const layers = computed(() =>
  props.probe.layers.filter((l) => l.layer === view.layer || l.ids.some((i) => i.id !== NO_ID)),
);
/** Rules that take more than what is in front, in the layer that clicks take from. */
const rules = computed(() => {
  const own = layers.value.find((l) => l.layer === view.layer) ?? layers.value[0];
  const first = own?.ids.find((i) => i.id !== NO_ID);
  const members = picture.cast.find((l) => l.name === own?.layer)?.members ?? [];
  if (!own || !first) return [];
  const like = likeName(
    first.name,
    members.map((m) => m.name),
  );
  const group = groupRule(first.name);
  return [...new Set([like, group])].flatMap((rule) => {
    if (rule === undefined) return [];
    const ids = matchMembers(rule, members).map((m) => m.id);
    return ids.length > 1
      ? [{ layer: own.layer, rule, ids, text: rule === like ? 'named like it' : 'its group' }]
      : [];
  });
});

function done(): void {
  void picking.show();
  emit('close');
}
onClickOutside(element, done);
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key === 'Escape') done();
});
onScopeDispose(() => void picking.show());
onMounted(async () => {
  await nextTick();
  const box = element.value!;
  const room = box.parentElement!;
  corner.value = {
    x: Math.max(0, Math.min(props.at.x, room.clientWidth - box.offsetWidth - 4)),
    y: Math.max(0, Math.min(props.at.y, room.clientHeight - box.offsetHeight - 4)),
  };
  box.querySelector('button')?.focus();
});
/** Arrow keys go from row to row. */
function step(by: number): void {
  const rows = [...element.value!.querySelectorAll('button')];
  const at = rows.indexOf(document.activeElement as HTMLButtonElement);
  rows[(at + by + rows.length) % rows.length]?.focus();
}
</script>

<template>
  <div
    ref="element"
    class="pointer-list scroll"
    role="menu"
    aria-label="Take from this pixel"
    :style="{ left: `${corner.x}px`, top: `${corner.y}px` }"
    @keydown.down.prevent="step(1)"
    @keydown.up.prevent="step(-1)"
  >
    <section v-for="l in layers" :key="l.layer">
      <h4>{{ layerLabel(l.layer) }}</h4>
      <button
        v-for="id in l.ids"
        :key="id.id"
        class="plain-button"
        type="button"
        role="menuitemcheckbox"
        :aria-checked="picking.isChosen(l.layer, id)"
        @mouseenter="picking.show(l.layer, [id.id])"
        @focus="picking.show(l.layer, [id.id])"
        @click="picking.take(l.layer, [id])"
      >
        <span class="tick">{{ picking.isChosen(l.layer, id) ? '✓' : '' }}</span>
        <span class="share">{{ percent(id.coverage) }}</span>
        <span class="name">{{ id.name }}</span>
      </button>
    </section>
    <section v-if="rules.length">
      <h4>All at once</h4>
      <button
        v-for="r in rules"
        :key="r.rule"
        class="plain-button"
        type="button"
        role="menuitem"
        @mouseenter="picking.show(r.layer, r.ids)"
        @focus="picking.show(r.layer, r.ids)"
        @click="
          picking.takeRule(r.layer, r.rule);
          done();
        "
      >
        <span class="tick" />
        <span class="share">{{ r.ids.length }}</span>
        <span class="name"><i>{{ r.rule }}</i> <small>{{ r.text }}</small></span>
      </button>
    </section>
    <p v-if="layers.length === 0">Nothing has an ID here.</p>
  </div>
</template>

<style scoped>
.pointer-list {
  position: absolute;
  z-index: 5;
  min-width: 210px;
  max-width: min(420px, 92%);
  max-height: min(430px, 92%);
  padding: 6px 0;
  background: var(--over);
  color: var(--on-over);
  font-size: 13px;
  user-select: none;
}
h4 {
  margin: 4px 12px 1px;
  font-weight: 400;
  color: var(--on-over-quiet);
}
button {
  display: grid;
  grid-template-columns: 12px 44px 1fr;
  gap: 7px;
  width: 100%;
  padding: 3px 12px;
  text-align: left;
}
button:hover,
button:focus-visible {
  background: #3d3d3d;
  color: #fff;
}
.share {
  text-align: right;
  white-space: nowrap;
}
.name {
  overflow-wrap: anywhere;
}
small {
  color: var(--on-over-quiet);
}
p {
  margin: 4px 12px;
}
</style>
