<script setup lang="ts">
import { computed } from 'vue';
import { displayByte } from '@zesty-crow/core/colour';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { layerLabel } from './layer-label.ts';
import { useLook } from './look.ts';

const props = defineProps<{ probe: Probe | undefined }>();
const picture = usePicture();
const view = useLook();

const origin = computed(() => picture.opened?.dataWindow ?? { xMin: 0, yMin: 0 });
const linear = (v: number) => (Math.abs(v) >= 100 ? v.toFixed(1) : v.toFixed(4));
const display = (v: number) => String(Math.round(displayByte(v * 2 ** view.stops)));
const percent = (c: number) => `${(c * 100).toFixed(c < 0.0995 ? 1 : 0)} %`;
const shown = computed(() => (view.holdBefore ? props.probe?.before : props.probe?.after));
</script>

<template>
  <div class="readout" aria-label="Under the pointer">
    <dl class="values">
      <dt>x, y</dt>
      <dd>{{ probe ? `${probe.x + origin.xMin}, ${probe.y + origin.yMin}` : '–' }}</dd>
      <dt>linear</dt>
      <dd>{{ shown ? shown.map(linear).join('  ') : '–' }}</dd>
      <dt>display</dt>
      <dd>{{ shown ? shown.map(display).join('  ') : '–' }}</dd>
      <dt>mask</dt>
      <dd>{{ probe ? percent(probe.mask) : '–' }}</dd>
    </dl>
    <div class="layers scroll">
      <div
        v-for="layer in picture.cast"
        :key="layer.name"
        class="layer"
        :class="{ active: layer.name === view.layer }"
      >
        <button
          class="plain-button title"
          type="button"
          :title="`Pick from ${layer.name}`"
          @click="view.layer = layer.name"
        >
          {{ layerLabel(layer.name) }}
        </button>
        <ol>
          <li
            v-for="(id, i) in (probe?.layers.find((l) => l.layer === layer.name)?.ids ?? []).slice(0, 4)"
            :key="id.id"
            :class="{
              meant:
                layer.name === view.layer &&
                i === view.behind % (probe?.layers.find((l) => l.layer === layer.name)?.ids.length || 1),
            }"
          >
            <span class="share">{{ percent(id.coverage) }}</span> <span class="cut">{{ id.name }}</span>
          </li>
        </ol>
      </div>
    </div>
  </div>
</template>

<style scoped>
.readout {
  display: flex;
  gap: 0;
  height: 92px;
  background: var(--room-deep);
  color: var(--on-room);
  border-top: 1px solid var(--room-line);
  font-size: 13px;
}
.values {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0 10px;
  margin: 0;
  padding: 7px 14px;
  width: 230px;
  flex: none;
  align-content: start;
  white-space: pre;
}
dt {
  color: var(--on-room-quiet);
}
dd {
  margin: 0;
}
.layers {
  display: flex;
  flex: 1;
  min-width: 0;
}
.layer {
  flex: 1 0 132px;
  min-width: 0;
  padding: 6px 12px;
  border-left: 1px solid var(--room-line);
}
.title {
  white-space: nowrap;
  color: var(--on-room-quiet);
}
.active .title {
  color: var(--on-room);
  box-shadow: 0 2px 0 var(--lemon);
}
ol {
  list-style: none;
  margin: 2px 0 0;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  color: var(--on-room-quiet);
}
li.meant {
  color: #fff;
}
.share {
  width: 46px;
  text-align: right;
  flex: none;
}
</style>
