<script setup lang="ts">
import { ElOption, ElSelect, ElSplitter, ElSplitterPanel } from 'element-plus';
import { frameNumbers } from '@zesty-crow/core/version';
import type { Version } from '@zesty-crow/server/contract';
import { computed, onUnmounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useChanges } from '../correct/changes.ts';
import type { Member } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { notifyError } from '../server/notify.ts';
import FindingsPanel from '../shot/FindingsPanel.vue';
import { versionLabel } from '../shot/version-label.ts';
import ShotBar from '../shot/ShotBar.vue';
import { useShot } from '../shot/use-shot.ts';
import CastTable from './CastTable.vue';
import PassLarge from './PassLarge.vue';
import WallTile from './WallTile.vue';

/** What arrived: every pass on a wall, what is wrong, and everything in it that has an ID. */
const props = defineProps<{ id: string }>();
const router = useRouter();
const picture = usePicture();
const changes = useChanges();
const { shot, load } = useShot(props.id);
const frame = ref<number>();
const large = ref<string>();

const ready = computed(() => shot.value?.versions.filter((v) => v.state === 'ready') ?? []);
const version = computed(() => ready.value.find((v) => v.id === picture.versionId));
const frames = computed(() => (version.value ? frameNumbers(version.value.files) : []));
const wall = computed(() => picture.opened?.wall ?? []);
const pass = computed(() => wall.value.find((p) => p.name === large.value));
const ratio = computed(() => (picture.size ? picture.size.width / picture.size.height : 16 / 9));
/** Bytes of the frame's files on disk. */
const bytes = computed(() => {
  const files = (version.value?.files ?? []).filter((f) => f.role === 'picture');
  const own = files.filter((f) => f.frame === (frame.value ?? null));
  return (own.length ? own : files).reduce((sum, f) => sum + f.size, 0);
});
const findings = computed(() => {
  const all = [...(version.value?.summary?.findings ?? []), ...(picture.opened?.findings ?? [])];
  return [...new Map(all.map((f) => [`${f.code} ${f.message}`, f])).values()];
});

function open(v: Version, wanted?: number): void {
  const numbers = frameNumbers(v.files);
  frame.value = wanted ?? numbers[0];
  void picture.open(v, frame.value);
}
watch(
  // The stage before closes what it had open only when this one is there.
  [ready, () => picture.versionId],
  ([[latest], openId]) => {
    if (latest && !openId) open(latest);
  },
  { immediate: true },
);
void changes.load(props.id).catch(notifyError);
void load().then(() => {
  if (shot.value && !ready.value.length) picture.problem = 'This shot has no version that can be opened yet.';
});
onUnmounted(() => picture.close());

async function beginChange(layer: string, members: Member[]): Promise<void> {
  changes.addChange(
    '',
    members.map((m) => ({ mode: 'with', layer, member: m.name })),
  );
  await router.push({ name: 'correct', params: { id: props.id } });
}
</script>

<template>
  <div class="inspect">
    <ShotBar :name="shot?.name" :document="changes">
      <ElSelect
        v-if="version"
        :model-value="version.id"
        size="small"
        class="versions"
        aria-label="Version"
        @update:model-value="(id: string) => open(ready.find((v) => v.id === id)!)"
      >
        <ElOption v-for="v in ready" :key="v.id" :value="v.id" :label="versionLabel(v)" />
      </ElSelect>
      <ElSelect
        v-if="frames.length > 1"
        :model-value="frame"
        size="small"
        class="versions"
        aria-label="Frame"
        @update:model-value="(n: number) => open(version!, n)"
      >
        <ElOption v-for="n in frames" :key="n" :value="n" :label="`frame ${n}`" />
      </ElSelect>
      <span v-if="wall.length" class="count">{{ wall.length }} passes</span>
    </ShotBar>
    <ElSplitter class="below">
      <ElSplitterPanel>
        <p v-if="picture.problem" class="problem" role="alert">{{ picture.problem }}</p>
        <p v-else-if="!picture.opened" class="problem" role="status">
          Reading… {{ Math.round((picture.progress?.share ?? 0) * 100) }} %
        </p>
        <PassLarge v-else-if="pass" :pass="pass" @close="large = undefined" />
        <div v-else class="wall scroll">
          <WallTile
            v-for="p in wall"
            :key="p.name"
            :pass="p"
            :ratio="ratio"
            :bytes="bytes"
            :class="{ first: p.name === 'picture' }"
            @open="large = p.name"
          />
        </div>
      </ElSplitterPanel>
      <ElSplitterPanel size="340" min="260" max="45%">
        <div class="side">
          <FindingsPanel :findings="findings" opened />
          <CastTable @change="beginChange" />
        </div>
      </ElSplitterPanel>
    </ElSplitter>
  </div>
</template>

<style scoped>
.inspect {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.below {
  flex: 1;
  min-height: 0;
}
.below :deep(.el-splitter-panel) {
  display: flex;
  flex-direction: column;
  overflow: hidden;
}
.below :deep(.el-splitter-bar__dragger:before),
.below :deep(.el-splitter-bar__dragger:after) {
  background-color: var(--room-line);
}
.wall {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(max(250px, 19%), 1fr));
  align-content: start;
  gap: 22px 18px;
  height: 100%;
  padding: 16px;
  /* Dark enough for what is written on it. */
  background: var(--room-deep);
}
/* The picture itself hangs larger than the rest. */
.first {
  grid-column: span 2;
}
.side {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.side > :last-child {
  flex: 1;
}
.versions {
  width: 128px;
  flex: none;
}
.count {
  color: var(--on-room-quiet);
  white-space: nowrap;
}
.problem {
  margin: auto;
  color: var(--on-room);
}
</style>
