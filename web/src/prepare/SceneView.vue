<script setup lang="ts">
import * as Comlink from 'comlink';
import { onMounted, onUnmounted, ref, shallowRef, watch } from 'vue';
import { fileUrl } from '../server/api.ts';
import { usePlan } from '../shot/plan.ts';
import type { ShownScene } from './scene-messages.ts';
import type { SceneWorker } from './scene-worker.ts';
import { useSelection } from './selection.ts';
import { ThreeStage, type Hit } from './three-stage.ts';

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
    showSelection();
  } catch (error) {
    if (worker === own) problem.value = error instanceof Error ? error.message : String(error);
  } finally {
    if (worker === own) busy.value = false;
    own.terminate();
  }
}

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
    stage = new ThreeStage(canvas.value!, () => drawn.value++);
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
