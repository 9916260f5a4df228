<script setup lang="ts">
import { useKeyChoices } from '../keys/key-choices.ts';
import { ElOption, ElSelect } from 'element-plus';
import { ChevronLeft, ChevronRight, Pause, Play } from '@lucide/vue';
import { computed } from 'vue';
import FrameStrip, { type FrameMarks } from '../../shot/FrameStrip.vue';
import type { StoredFile } from '@zesty-crow/server/contract';
import { stepsIn } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import type { StepKey } from '@zesty-crow/core/changes';
import { STEP_LISTS } from '../../shot/changes/step-kinds.ts';
import AreaLine from './AreaLine.vue';
import { RATES, useSequence } from './sequence.ts';

/** The frames of a sequence under the picture: playing, in and out points, and what the open change's mask covers in each. */
defineProps<{ files: readonly StoredFile[] }>();
const sequence = useSequence();
const changes = useChanges();
const { tip } = useKeyChoices();

/** Frames at which something of the open change has a key. */
const keyed = computed(() => {
  const { owner } = changes;
  const lists = Object.keys(STEP_LISTS) as StepKey[];
  const steps = owner ? lists.flatMap((name) => stepsIn(owner, name)) : [];
  return new Set(steps.flatMap((s) => Object.values(s.keys ?? {}).flatMap((k) => k.map((key) => key.frame))));
});
const marks = computed(() => {
  const inside = new Set(sequence.played);
  return new Map(
    sequence.frames.map((f): [number, FrameMarks] => [
      f,
      {
        outside: !inside.has(f),
        ready: sequence.filling && sequence.fresh.has(f),
        leap: sequence.leaps.has(f),
        key: keyed.value.has(f),
        problem: sequence.made.get(f)?.problem,
      },
    ]),
  );
});
const ready = computed(() => sequence.played.filter((f) => sequence.fresh.has(f)).length);
const told = computed(() => {
  if (!sequence.filling) return '';
  const { length } = sequence.played;
  const lost = sequence.problems.length;
  const failed = lost ? `, ${lost} could not be computed` : '';
  return ready.value < length
    ? `${ready.value} of ${length} frames computed`
    : `all frames computed${failed}`;
});
const area = computed(() => {
  const own = sequence.parts.find((p) => p.frame === sequence.at);
  if (!own) return '';
  const leap = sequence.leaps.has(own.frame) ? ', leaps here' : '';
  return `mask ${own.part.area.toPrecision(2)} % of the frame${leap}`;
});
</script>

<template>
  <div class="row" role="group" aria-label="Sequence">
    <div class="bar">
      <button
        class="plain-button"
        type="button"
        aria-label="Frame before"
        title="Frame before (key ,)"
        :disabled="sequence.at === sequence.frames[0]"
        @click="sequence.goBy(-1)"
      >
        <ChevronLeft :size="16" />
      </button>
      <button
        class="plain-button"
        type="button"
        :aria-label="sequence.playing ? 'Stop' : 'Play'"
        :title="sequence.playing ? tip('Stop', 'Q') : tip('Play over and over', 'Q')"
        :disabled="sequence.played.length < 2"
        @click="sequence.flip()"
      >
        <component :is="sequence.playing ? Pause : Play" :size="16" />
      </button>
      <button
        class="plain-button"
        type="button"
        aria-label="Frame after"
        title="Frame after (key .)"
        :disabled="sequence.at === sequence.frames.at(-1)"
        @click="sequence.goBy(1)"
      >
        <ChevronRight :size="16" />
      </button>
      <span class="now">frame {{ sequence.at }} of {{ sequence.frames.length }}</span>
      <ElSelect v-model="sequence.rate" class="rate" size="small" aria-label="Frames a second">
        <ElOption v-for="r in RATES" :key="r" :value="r" :label="`${r} fps`" />
      </ElSelect>
      <button
        v-for="end in ['first', 'last'] as const"
        :key="end"
        class="plain-button room-button"
        :class="{ on: sequence.span[end] !== undefined }"
        type="button"
        :aria-pressed="sequence.span[end] !== undefined"
        :title="
          end === 'first'
            ? tip('Play from this frame on; again takes it back', 'I')
            : tip('Play up to this frame; again takes it back', 'O')
        "
        @click="sequence.setEnd(end)"
      >
        {{ end === 'first' ? 'In' : 'Out'
        }}{{ sequence.span[end] === undefined ? '' : ` ${sequence.span[end]}` }}
      </button>
      <span class="told cut" role="status">{{ told }}</span>
      <span class="told area">{{ area }}</span>
    </div>
    <FrameStrip
      :frames="sequence.frames"
      :frame="sequence.at"
      :files="files"
      :marks="marks"
      @open="sequence.go($event)"
      @scrub="sequence.go($event)"
    >
      <template #under="{ middles, width }">
        <AreaLine :parts="sequence.parts" :leaps="sequence.leaps" :middles="middles" :width="width" />
      </template>
    </FrameStrip>
  </div>
</template>

<style scoped>
.row {
  flex: none;
  background: var(--crow-soft);
  color: var(--on-room);
}
.bar {
  display: flex;
  align-items: center;
  gap: 6px;
  height: 30px;
  padding: 2px 8px 0;
  white-space: nowrap;
  font-size: 13px;
}
.bar > .plain-button {
  display: grid;
  padding: 3px 4px;
}
.now {
  min-width: 108px;
}
.rate {
  width: 78px;
}
.told {
  flex: 1 1 auto;
  min-width: 0;
  color: var(--on-room-quiet);
}
.area {
  flex: none;
}
</style>
