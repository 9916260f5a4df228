<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { notifyError } from '../server/notify.ts';
import { useShot } from '../shot/use-shot.ts';
import StageColumns from '../shot/columns/StageColumns.vue';
import { shareOfWindow, useColumns } from '../shot/columns/use-columns.ts';
import ShotBar from '../shot/ShotBar.vue';
import { addScene } from '../shot/bring-in/add-files.ts';
import { shareOf, useUploads, type Upload } from '../shot/bring-in/uploads.ts';
import { useUndoKeys } from '../shot/use-undo-keys.ts';
import PassesPanel from './PassesPanel.vue';
import { usePlan } from '../shot/plan.ts';
import RosterPanel from './RosterPanel.vue';
import SceneView from './SceneView.vue';
import { useSelection } from './selection.ts';
import WishesPanel from './WishesPanel.vue';

const props = defineProps<{ id: string }>();
const columns = useColumns('prepare', {
  left: { label: 'the wishes', narrowest: 210, usual: shareOfWindow(0.195, 210, 262) },
  right: { label: 'the ID plan', narrowest: 300, usual: shareOfWindow(0.285, 300, 366) },
});
const router = useRouter();
const plan = usePlan();
const selection = useSelection();
const { shot, load: loadShot } = useShot(props.id);
const loaded = ref(false);
const chooser = ref<HTMLInputElement>();
const sending = ref<Upload>();
const uploads = useUploads();

onMounted(async () => {
  selection.clear();
  selection.pass = '';
  await loadShot();
  try {
    await plan.load(props.id);
  } catch (error) {
    notifyError(error);
  }
  loaded.value = true;
});
useUndoKeys(plan);

async function take(files: File[]): Promise<void> {
  if (files.length === 0) return;
  try {
    await uploads.run(shot.value?.name ?? 'scene', async (upload) => {
      sending.value = upload;
      await addScene(files, props.id, upload);
    });
    await plan.loadScene(props.id);
  } catch (error) {
    notifyError(error);
  } finally {
    sending.value = undefined;
  }
}
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  void take([...(input.files ?? [])]);
  input.value = '';
}
const hasScene = computed(() => (plan.scene?.files.length ?? 0) > 0);
const sceneNotes = computed(() => plan.outline?.findings.filter((f) => f.severity !== 'info') ?? []);
</script>

<template>
  <div class="prepare" @dragover.prevent @drop.prevent="take([...($event.dataTransfer?.files ?? [])])">
    <StageColumns :columns="columns">
      <template #left><WishesPanel /></template>
      <div class="centre">
        <ShotBar :name="shot?.name" :document="plan">
          <ElButton size="small" @click="chooser?.click()">{{
            hasScene ? 'Replace scene…' : 'Choose scene…'
          }}</ElButton>
          <input
            ref="chooser"
            type="file"
            multiple
            accept=".glb,.gltf,.bin,.png,.jpg,.jpeg"
            hidden
            @change="chosen"
          />
          <template #end>
            <ElButton
              size="small"
              type="primary"
              :disabled="!plan.outline"
              @click="router.push({ name: 'render', params: { id } })"
              >Render…</ElButton
            >
          </template>
        </ShotBar>
        <template v-if="plan.outline">
          <div v-if="sceneNotes.length" class="notes">
            <p v-for="f in sceneNotes" :key="f.code">{{ f.message }}</p>
          </div>
          <div class="split">
            <SceneView />
            <RosterPanel />
          </div>
        </template>
        <div v-else class="empty" role="status">
          <template v-if="sending !== undefined"
            >Receiving the scene… {{ Math.round(shareOf(sending) * 100) }} %</template
          >
          <template v-else-if="plan.scene?.problem"
            ><strong>The scene cannot be used.</strong> {{ plan.scene.problem }}</template
          >
          <template v-else-if="hasScene">Reading the scene…</template>
          <template v-else-if="loaded">
            <h2>No scene yet</h2>
            <p>
              Drop a .glb here, or a .gltf together with its files. It is never changed: names and numbers
              stay in the plan.
            </p>
          </template>
        </div>
      </div>
      <template #right><PassesPanel :name="shot?.name ?? ''" /></template>
    </StageColumns>
  </div>
</template>

<style scoped>
.prepare {
  height: 100%;
}
.centre {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-width: 0;
  min-height: 0;
}
.split {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-rows: minmax(0, 46%) minmax(0, 54%);
}
.empty {
  flex: 1;
  display: grid;
  place-content: center;
  padding: 60px;
  text-align: center;
  color: var(--on-room);
}
.notes {
  padding: 6px 12px;
  background: var(--paper-shade);
}
.notes p {
  margin: 0;
}
</style>
