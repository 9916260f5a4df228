<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { X } from '@lucide/vue';
import { shallowRef, watch } from 'vue';
import { through } from '@zesty-crow/core/colour';
import { shownColour } from '@zesty-crow/core/display';
import type { SamplePlace, SampleValues } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';

/** Values at places that stay while others move: pinned by a click, as wide as is wanted. */
const picture = usePicture();
const changes = useChanges();
const view = useView();
const SIDES = [1, 3, 5] as const;

const values = shallowRef<SampleValues[]>([]);
watch(
  [() => view.pins, () => picture.settledCount],
  async ([pins]) => (values.value = await picture.samples(JSON.parse(JSON.stringify(pins)) as SamplePlace[])),
  { immediate: true, deep: true },
);
type Three = readonly [number, number, number];
const linear = (c: Three) => c.map((v) => (Math.abs(v) >= 100 ? v.toFixed(1) : v.toFixed(3))).join(' ');
const bytes = (c: Three) => {
  const { toScreen } = picture.opened ?? {};
  return shownColour(toScreen ? through(toScreen, c) : c, view.display).map((v) => Math.round(255 * v));
};
const css = (c: Three) => `rgb(${bytes(c).join(' ')})`;
function widen(at: number, side: number): void {
  const pin = view.pins[at]!;
  if ('side' in pin) view.pins = view.pins.with(at, { ...pin, side });
}
function pinPart(): void {
  if (changes.openId) view.pins = [...view.pins, { changeId: changes.openId }];
}
const nameOf = (id: string) => changes.list.changes.find((c) => c.id === id)?.words || 'New change';
</script>

<template>
  <ol v-if="view.pins.length">
    <li v-for="(pin, i) in view.pins" :key="i">
      <span class="number">{{ i + 1 }}</span>
      <span v-if="'changeId' in pin" class="cut">all of “{{ nameOf(pin.changeId) }}”</span>
      <ElSelect
        v-else
        :model-value="pin.side"
        size="small"
        aria-label="How wide"
        @update:model-value="widen(i, $event as number)"
      >
        <ElOption
          v-for="s in SIDES"
          :key="s"
          :value="s"
          :label="s === 1 ? 'one pixel' : `${s} × ${s} pixels`"
        />
      </ElSelect>
      <button
        class="plain-button"
        type="button"
        :aria-label="`Take sample ${i + 1} away`"
        @click="view.pins = view.pins.filter((_, k) => k !== i)"
      >
        <X :size="14" />
      </button>
      <dl v-if="values[i]">
        <template v-for="which in ['before', 'after'] as const" :key="which">
          <dt>{{ which }}</dt>
          <dd>
            <span class="chip" :style="{ background: css(values[i]![which]) }" />
            {{ linear(values[i]![which]) }}
            <span class="bytes">{{ bytes(values[i]![which]).join(' ') }}</span>
          </dd>
        </template>
      </dl>
    </li>
  </ol>
  <div class="acts">
    <button
      class="plain-button room-button"
      type="button"
      :class="{ on: view.tool === 'sample' && view.sampling === 'pin' }"
      title="The next click pins the values there"
      @click="view.pinNext()"
    >
      Pin a sample
    </button>
    <button class="plain-button room-button" type="button" :disabled="!changes.openId" @click="pinPart">
      Pin the part’s mean
    </button>
  </div>
</template>

<style scoped>
ol {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr 20px;
  align-items: center;
  gap: 4px;
}
dl {
  display: grid;
  grid-column: 2 / 4;
  grid-template-columns: 48px 1fr;
  gap: 2px 4px;
  margin: 0;
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
dt,
.bytes {
  color: var(--on-room-quiet);
}
dd {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 0;
}
.chip {
  width: 14px;
  height: 14px;
  outline: 1px solid var(--room-line);
}
.bytes {
  margin-left: auto;
}
.acts {
  display: flex;
  gap: 6px;
}
</style>
