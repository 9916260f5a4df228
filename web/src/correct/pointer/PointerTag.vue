<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { NO_ID } from '@zesty-crow/core/idlayers';
import type { Probe } from '../../picture/messages.ts';
import { usePicture } from '../../picture/picture.ts';
import type { Place } from '../../viewer/tool.ts';
import { layerLabel } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { usePicking } from '../use-picking.ts';

/**
 * What the pointer carries: in one line the member that a click would take or take out, with its share. Everything at the
 * pixel unfolds while a key is held.
 */
const props = defineProps<{
  probe: Probe | undefined;
  at: Place;
  /** The middle of the thing under the pointer, which stays to be seen. */
  middle: Place | undefined;
  unfolded: boolean;
}>();
const picture = usePicture();
const view = useView();
const picking = usePicking();

/** Away from the pointer, and from the hand below it. */
const GAP = 18;
const MOST = 4;
/** Coverage from which on an ID of another layer is told. */
const LEAST = 0.02;
const tag = ref<HTMLElement>();
const corner = ref({ x: 0, y: 0 });

/** What a click means. */
const meant = computed(() => {
  const ids = props.probe?.layers.find((l) => l.layer === view.layer)?.ids ?? [];
  const id = ids[ids.length ? view.behind % ids.length : 0];
  return id && { ...id, chosen: view.layer !== undefined && picking.isChosen(view.layer, id) };
});
const layers = computed(() =>
  picture.cast.flatMap(({ name }) => {
    const ids = (props.probe?.layers.find((l) => l.layer === name)?.ids ?? []).filter(
      (id) => id.coverage >= LEAST && id.id !== NO_ID,
    );
    return ids.length
      ? [{ name, label: layerLabel(name), ids: ids.slice(0, MOST), more: Math.max(0, ids.length - MOST) }]
      : [];
  }),
);
const percent = (c: number) => `${(c * 100).toFixed(c < 0.0995 ? 1 : 0)} %`;

/** Above the pointer and to its right; where it would leave the room, or lie on the thing's middle, on another side. */
watch(
  () => [props.at, props.probe, props.unfolded, props.middle],
  async () => {
    await nextTick();
    const box = tag.value;
    const room = box?.parentElement;
    if (!box || !room) return;
    const { x, y } = props.at;
    const [w, h] = [box.offsetWidth, box.offsetHeight];
    const places = [y - GAP - h, y + 2 * GAP].flatMap((top) =>
      [x + GAP, x - GAP - w].map((left) => ({ x: left, y: top })),
    );
    const inside = (p: Place) =>
      p.x >= 0 && p.y >= 0 && p.x + w <= room.clientWidth && p.y + h <= room.clientHeight;
    const hides = (p: Place) => {
      const m = props.middle;
      return m !== undefined && m.x > p.x && m.x < p.x + w && m.y > p.y && m.y < p.y + h;
    };
    const best = places.find((p) => inside(p) && !hides(p)) ?? places.find(inside) ?? places[0]!;
    corner.value = { x: Math.max(0, best.x), y: Math.max(0, best.y) };
  },
  { flush: 'post' },
);
</script>

<template>
  <div
    v-if="probe && (meant || unfolded)"
    ref="tag"
    class="tag"
    :class="{ unfolded }"
    aria-label="Under the pointer"
    :style="{ transform: `translate(${corner.x}px, ${corner.y}px)` }"
  >
    <template v-if="unfolded">
      <section v-for="layer in layers" :key="layer.name">
        <h4>{{ layer.label }}</h4>
        <p v-for="id in layer.ids" :key="id.id">
          <span class="share">{{ percent(id.coverage) }}</span><span class="name">{{ id.name }}</span>
        </p>
        <p v-if="layer.more" class="more">and {{ layer.more }} more</p>
      </section>
      <p v-if="layers.length === 0" class="more">Nothing has an ID here.</p>
    </template>
    <template v-else-if="meant">
      <span v-if="meant.chosen" class="chosen" title="A click takes it out">−</span>
      <b class="cut">{{ meant.name }}</b><span class="share">{{ percent(meant.coverage) }}</span>
    </template>
  </div>
</template>

<style scoped>
.tag {
  position: absolute;
  left: 0;
  top: 0;
  display: flex;
  align-items: baseline;
  gap: 7px;
  max-width: min(320px, 90%);
  height: 22px;
  padding: 1px 8px;
  background: var(--over);
  color: var(--on-over);
  font-size: 13px;
  pointer-events: none;
}
.unfolded {
  flex-wrap: wrap;
  gap: 6px 16px;
  max-width: min(460px, 90%);
  height: auto;
  padding: 6px 10px 7px;
  line-height: 1.3;
}
b {
  font-weight: 600;
  color: #fff;
}
.chosen {
  color: var(--lemon);
  font-weight: 700;
}
h4 {
  margin: 0;
  font-weight: 400;
  color: var(--on-over-quiet);
}
p {
  display: grid;
  grid-template-columns: 44px 1fr;
  gap: 7px;
  margin: 0;
}
.share {
  white-space: nowrap;
}
p .share {
  text-align: right;
}
.name {
  overflow-wrap: anywhere;
}
.more {
  display: block;
  color: var(--on-over-quiet);
}
</style>
