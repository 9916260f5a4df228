<script setup lang="ts">
import * as Comlink from 'comlink';
import { useDebounceFn } from '@vueuse/core';
import { ElOption, ElSelect } from 'element-plus';
import { computed, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue';
import { passKind } from '@zesty-crow/core';
import { fileUrl } from '../server/api.ts';
import { usePlan } from '../shot/plan.ts';
import { passSight } from './pass-sight.ts';
import type { ShownScene } from './scene-messages.ts';
import type { SceneWorker } from './scene-worker.ts';
import { useSelection } from './selection.ts';
import { ThreeStage, type Hit } from './three-stage.ts';

/** Pixels across that a text on a thing takes at least. */
const ROOM_FOR_LABEL = 26;

const plan = usePlan();
const selection = useSelection();
const canvas = ref<HTMLCanvasElement>();
const room = ref<HTMLElement>();
const busy = ref(false);
const problem = ref<string>();
const shown = shallowRef<ShownScene>();
const hover = ref<string>();
const drawn = ref(0);
let stage: ThreeStage | undefined;
let worker: Worker | undefined;
let observer: ResizeObserver | undefined;

async function load(): Promise<void> {
  const scene = plan.scene?.files.find((f) => f.role === 'scene');
  worker?.terminate();
  if (!scene || !stage) return;
  busy.value = true;
  problem.value = undefined;
  const own = new Worker(new URL('./scene-worker.ts', import.meta.url), { type: 'module' });
  worker = own;
  try {
    const failed = new Promise<never>((_, reject) => {
      own.onerror = (e) => reject(new Error(e.message || 'The scene could not be read.'));
    });
    const beside = plan.scene!.files.filter((f) => f.role === 'scene-part');
    const { first, framesPerSecond, camera } = plan.plan.render;
    shown.value = await Promise.race([
      Comlink.wrap<SceneWorker>(own).open(
        fileUrl(scene.id),
        beside.map((f) => ({ name: f.name, url: fileUrl(f.id) })),
        (first - 1) / framesPerSecond,
        camera,
      ),
      failed,
    ]);
    if (worker !== own) return;
    stage.load(shown.value);
    showPass();
    showSelection();
  } catch (error) {
    if (worker === own) problem.value = error instanceof Error ? error.message : String(error);
  } finally {
    if (worker === own) busy.value = false;
    own.terminate();
  }
}

/** ID passes of the plan, which can be seen before they are rendered. */
const passes = computed(() =>
  plan.plan.passes.flatMap((use) => {
    const kind = passKind(use.kind);
    return kind?.isolates ? [{ id: use.id, title: kind.title(use.values), on: use.on }] : [];
  }),
);
const sight = computed(() => {
  const use = plan.plan.passes.find((p) => p.id === selection.pass);
  return use && passSight(use, plan.roster);
});
function showPass(): void {
  const scene = shown.value;
  if (!scene || !stage) return;
  const now = sight.value;
  stage.paint(now && ((o, m) => now.colourOf(scene.objects[o]!, scene.materials[m]!)));
}
/** Texts on things that a pass has, where there is room for them. */
const labels = shallowRef<{ text: string; x: number; y: number }[]>([]);
function placeLabels(): void {
  const scene = shown.value;
  const texts = sight.value?.labels;
  if (!scene || !stage || !texts?.size) {
    labels.value = [];
    return;
  }
  const placed: { text: string; x: number; y: number }[] = [];
  for (const { object, x, y } of stage.places()) {
    const text = texts.get(scene.objects[object]!);
    if (text && placed.every((p) => Math.abs(p.x - x) > ROOM_FOR_LABEL || Math.abs(p.y - y) > 16))
      placed.push({ text, x, y });
  }
  labels.value = placed;
}
const placeSoon = useDebounceFn(placeLabels, 120);

function showSelection(): void {
  const scene = shown.value;
  if (!scene || !stage) return;
  const byMaterial = selection.what === 'materials';
  const objects = new Set(
    scene.objects.flatMap((path, i) => (!byMaterial && selection.objectPaths.has(path) ? [i] : [])),
  );
  const materials = new Set(
    scene.materials.flatMap((name, i) => (byMaterial && selection.materials.has(name) ? [i] : [])),
  );
  stage.select((o, m) => objects.has(o) || materials.has(m), objects.size + materials.size > 0);
}

const sourceOf = (hit: Hit) =>
  selection.what === 'materials' ? shown.value!.materials[hit.material]! : shown.value!.objects[hit.object]!;
const nameOf = (source: string) =>
  (selection.what === 'materials' ? plan.roster.materials : plan.roster.objects).find(
    (e) => e.source === source,
  )?.name ?? source;

/** Where the last click was, and how many have been there before it: each goes one thing deeper. */
let clicked: { x: number; y: number; depth: number } | undefined;
let pressed: { x: number; y: number } | undefined;
function down(e: PointerEvent): void {
  pressed = { x: e.offsetX, y: e.offsetY };
}
function up(e: PointerEvent): void {
  if (!pressed || !shown.value || !stage) return;
  // A drag turns the view; only a click chooses.
  if (Math.hypot(e.offsetX - pressed.x, e.offsetY - pressed.y) > 4) {
    clicked = undefined;
    return;
  }
  const hits = stage.hitsAt(e.offsetX, e.offsetY);
  const again = clicked && Math.hypot(e.offsetX - clicked.x, e.offsetY - clicked.y) < 4;
  clicked = { x: e.offsetX, y: e.offsetY, depth: again ? clicked!.depth + 1 : 0 };
  const hit = hits[clicked.depth % Math.max(1, hits.length)];
  const more = e.shiftKey || e.ctrlKey || e.metaKey;
  if (hit) selection.choose(sourceOf(hit), more);
  else if (!more) selection.clear();
}
let asked = 0;
function move(e: PointerEvent): void {
  if (e.buttons || !shown.value || performance.now() - asked < 60) return;
  asked = performance.now();
  const hits = stage?.hitsAt(e.offsetX, e.offsetY) ?? [];
  const [front, ...behind] = hits.slice(0, 3).map((h) => nameOf(sourceOf(h)));
  hover.value = front && (behind.length ? `${front}; click again for ${behind.join(', ')} behind it` : front);
}

onMounted(() => {
  try {
    stage = new ThreeStage(canvas.value!, () => {
      drawn.value++;
      void placeSoon();
    });
  } catch {
    problem.value =
      'This browser cannot show the scene: it has no WebGL. The lists work all the same; to see the scene, turn on hardware acceleration.';
    return;
  }
  observer = new ResizeObserver(([entry]) => {
    const { width, height } = entry!.contentRect;
    stage?.resize(Math.round(width), Math.round(height));
  });
  observer.observe(room.value!);
  void load();
});
watch(
  () => plan.scene,
  () => void load(),
);
watch(
  () => [plan.plan.render.camera, plan.plan.render.first],
  () => void load(),
);
watch(sight, showPass);
watch([() => selection.objectPaths, () => selection.materials, () => selection.what], showSelection);
onUnmounted(() => {
  observer?.disconnect();
  worker?.terminate();
  stage?.dispose();
});
</script>

<template>
  <div ref="room" class="scene" :data-drawn="drawn">
    <canvas
      ref="canvas"
      aria-label="The scene in three dimensions"
      @pointerdown="down"
      @pointerup="up"
      @pointermove="move"
      @pointerleave="hover = undefined"
    />
    <div v-if="passes.length" class="sight">
      <ElSelect v-model="selection.pass" size="small" aria-label="See" :empty-values="[null, undefined]">
        <ElOption value="" label="Scene" />
        <ElOption
          v-for="p in passes"
          :key="p.id"
          :value="p.id"
          :label="p.on ? p.title : `${p.title} (not rendered)`"
        />
      </ElSelect>
    </div>
    <span
      v-for="l in labels"
      :key="`${l.x} ${l.y}`"
      class="label"
      :class="{ none: l.text === 'none' }"
      :style="{ left: `${l.x}px`, top: `${l.y}px` }"
      >{{ l.text }}</span
    >
    <div class="corner">
      <button class="plain-button room-button" type="button" @click="stage?.fromCamera()">
        From the camera
      </button>
    </div>
    <div v-if="hover" class="hover">{{ hover }}</div>
    <div v-if="busy" class="veil" role="status">Loading the scene…</div>
    <div v-else-if="problem" class="veil" role="alert">{{ problem }}</div>
  </div>
</template>

<style scoped>
.scene {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
  background: var(--room);
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
}
.sight {
  position: absolute;
  top: 8px;
  left: 8px;
  width: min(240px, calc(100% - 150px));
}
.label {
  position: absolute;
  padding: 0 4px;
  transform: translate(-50%, -50%);
  background: #000;
  color: #fff;
  font-size: 12px;
  line-height: 16px;
  pointer-events: none;
}
.label.none {
  color: #f0a8a0;
}
.corner {
  position: absolute;
  top: 8px;
  right: 8px;
  background: var(--room-deep);
}
.hover {
  position: absolute;
  left: 8px;
  bottom: 8px;
  max-width: calc(100% - 16px);
  padding: 2px 8px;
  background: var(--room-deep);
  color: var(--on-room);
  pointer-events: none;
  white-space: pre;
  overflow: hidden;
  text-overflow: ellipsis;
}
.veil {
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  padding: 40px;
  text-align: center;
  background: var(--room);
  color: var(--on-room);
}
</style>
