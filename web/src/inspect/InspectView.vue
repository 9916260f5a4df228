<script setup lang="ts">
import { ElOption, ElSelect, ElSplitter, ElSplitterPanel } from 'element-plus';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useChanges } from '../correct/changes.ts';
import type { Member } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { notifyError } from '../server/notify.ts';
import FindingsPanel from '../shot/FindingsPanel.vue';
import ShotBar from '../shot/ShotBar.vue';
import { useOpenVersion } from '../shot/use-open-version.ts';
import { useShot } from '../shot/use-shot.ts';
import VersionChoice from '../shot/VersionChoice.vue';
import CastTable from './CastTable.vue';
import PassLarge from './PassLarge.vue';
import WallTile from './WallTile.vue';

/** What arrived: every pass on a wall, what is wrong, and everything in it that has an ID. */
const props = defineProps<{ id: string }>();
const router = useRouter();
const picture = usePicture();
const changes = useChanges();
const { shot, load } = useShot(props.id);
const large = ref<string>();

const { ready, version, frame, frames, findings, open, tellNone } = useOpenVersion(shot);
const wall = computed(() => picture.opened?.wall ?? []);
const pass = computed(() => wall.value.find((p) => p.name === large.value));
const ratio = computed(() => (picture.size ? picture.size.width / picture.size.height : 16 / 9));
/** Bytes of the frame's files on disk. */
const bytes = computed(() => {
  const files = (version.value?.files ?? []).filter((f) => f.role === 'picture');
  const own = files.filter((f) => f.frame === (frame.value ?? null));
  return (own.length ? own : files).reduce((sum, f) => sum + f.size, 0);
});
void changes.load(props.id).catch(notifyError);
void load().then(tellNone);

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
      <VersionChoice :version="version" :ready="ready" @open="open($event)" />
      <ElSelect
        v-if="frames.length > 1"
        :model-value="frame"
        size="small"
        class="frames"
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
.frames {
  width: 110px;
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
