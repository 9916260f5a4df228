<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { familyOf } from '@zesty-crow/core/cast';
import { NO_ID } from '@zesty-crow/core/idlayers';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import type { Place } from '../../viewer/tool.ts';
import { layerLabel } from '../layer-label.ts';
import { useLook } from '../../shot/look.ts';

/** What lies under the pointer, beside it: every ID of every layer, names in full. */
const props = defineProps<{ probe: Probe | undefined; at: Place }>();
const picture = usePicture();
const view = useLook();

const GAP = 22;
const MOST = 4;
const FEW = 2;
/** Coverage from which on an ID of another layer is told. */
const LEAST = 0.02;
const tag = ref<HTMLElement>();
const corner = ref({ x: 0, y: 0 });

const layers = computed(() =>
  picture.cast.flatMap(({ name }) => {
    const active = name === view.layer;
    // Of the other layers only what matters is told: the tag shall hide little of the picture.
    const ids = (props.probe?.layers.find((l) => l.layer === name)?.ids ?? []).filter(
      (id) => active || (id.coverage >= LEAST && id.id !== NO_ID),
    );
    const most = active ? MOST : FEW;
    if (ids.length === 0 && !active) return [];
    const meant = active && ids.length ? view.behind % ids.length : -1;
    // The meant one is always among those shown.
    const from = Math.max(0, Math.min(meant - most + 1, ids.length - most));
    return [
      {
        name,
        label: layerLabel(name),
        active,
        ids: ids.slice(from, from + most).map((id, i) => ({ ...id, meant: from + i === meant })),
        more: Math.max(0, ids.length - from - most),
      },
    ];
  }),
);
/** There is more at this pixel than a click takes: several, or something that only a layer of another kind shows. */
const several = computed(
  () =>
    layers.value.some((l) => l.ids.length + l.more > 1) ||
    layers.value.some(({ name }) => familyOf(name) === 'other' && name !== view.layer),
);
const percent = (c: number) => `${(c * 100).toFixed(c < 0.0995 ? 1 : 0)} %`;

/** Right below the pointer, or on its other side where there is no room. */
watch(
  () => [props.at, props.probe],
  async () => {
    await nextTick();
    const box = tag.value;
    const room = box?.parentElement;
    if (!box || !room) return;
    const { x, y } = props.at;
    const [w, h] = [box.offsetWidth, box.offsetHeight];
    corner.value = {
      x: Math.max(0, x + GAP + w > room.clientWidth ? x - GAP - w : x + GAP),
      y: Math.max(0, y + GAP + h > room.clientHeight ? y - GAP - h : y + GAP),
    };
  },
  { flush: 'post' },
);
</script>

<template>
  <div
    v-if="probe && layers.length && !view.adjusting && !view.holdBefore"
    ref="tag"
    class="tag"
    aria-label="Under the pointer"
    :style="{ transform: `translate(${corner.x}px, ${corner.y}px)` }"
  >
    <section v-for="layer in layers" :key="layer.name" :class="{ active: layer.active }">
      <h4>{{ layer.label }}</h4>
      <p v-for="id in layer.ids" :key="id.id" :class="{ meant: id.meant }">
        <span class="share">{{ percent(id.coverage) }}</span><span class="name">{{ id.name }}</span>
      </p>
      <p v-if="layer.more" class="more">and {{ layer.more }} more</p>
      <p v-if="layer.ids.length === 0" class="more">nothing</p>
    </section>
    <p v-if="several" class="more hint">right-click or T to take any of them</p>
  </div>
</template>

<style scoped>
.tag {
  position: absolute;
  left: 0;
  top: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  max-width: min(460px, 90%);
  padding: 6px 10px 7px;
  background: rgb(27 27 27 / 86%);
  color: #e4e4e4;
  font-size: 13px;
  line-height: 1.3;
  pointer-events: none;
}
h4 {
  margin: 0;
  font-weight: 400;
  color: #bdbdbd;
}
.active h4 {
  color: var(--lemon);
}
p {
  display: grid;
  grid-template-columns: 44px 1fr;
  gap: 7px;
  margin: 0;
}
.share {
  text-align: right;
  white-space: nowrap;
}
.name {
  overflow-wrap: anywhere;
}
.meant {
  color: #fff;
  font-weight: 600;
}
.hint {
  flex-basis: 100%;
}
.more {
  display: block;
  color: #bdbdbd;
}
</style>
