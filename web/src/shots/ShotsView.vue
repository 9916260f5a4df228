<script setup lang="ts">
import { ElButton, ElInput, ElMessage, ElProgress } from 'element-plus';
import { FilePlus2, Pencil, Trash2 } from '@lucide/vue';
import { computed, defineAsyncComponent, h, nextTick, onMounted, onUnmounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { READERS } from '@zesty-crow/core/formats';
import type { ShotCard } from '@zesty-crow/server/contract';
import { api, fileUrl } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';
import { useJobs } from '../shell/jobs.ts';
import {
  addFiles,
  addScene,
  sceneFiles,
  shotName,
  sortFiles,
  worthAsking,
  type Dropped,
  type Group,
  type Upload,
} from './add-files.ts';
import { ago } from './ago.ts';
import { chosenFiles, droppedFiles } from './dropped-files.ts';

const BringIn = defineAsyncComponent(() => import('./BringIn.vue'));
/** Endings of pictures, for people. */
const PICTURES = READERS.map((r) => `.${r.endings[0]!}`).join(', ');
const ACCEPTED = [...READERS.flatMap((r) => r.endings), 'json', 'glb', 'gltf', 'bin']
  .map((e) => `.${e}`)
  .join();

const router = useRouter();
const jobs = useJobs();
const shots = ref<ShotCard[]>([]);
const loaded = ref(false);
const dragging = ref(0);
const uploads = ref<Upload[]>([]);
const renaming = ref<string>();
const newName = ref('');
const chooser = ref<HTMLInputElement>();

async function load(): Promise<void> {
  try {
    shots.value = await api.shots();
    loaded.value = true;
  } catch (error) {
    notifyError(error);
  }
}
const stopListening = listen({ shot: () => void load(), connected: () => void load() });
onMounted(load);
onUnmounted(stopListening);

const reading = (shot: ShotCard) => jobs.underWay.find((j) => j.shot_id === shot.id && j.kind === 'ingest');
const busy = computed(() => uploads.value.length > 0);

/** A scene begins a shot in Prepare, or becomes the scene of the shot it is dropped on. */
async function takeScene(files: File[], shot?: ShotCard): Promise<void> {
  const scene = files.find((f) => /\.gl(b|tf)$/i.test(f.name))!;
  const upload = ref<Upload>({ name: scene.name, done: 0, abort: new AbortController() }).value;
  uploads.value.push(upload);
  let id = shot?.id;
  try {
    id ??= (await api.createShot(shotName(scene.name))).id;
    await addScene(files, id, upload.abort.signal, (share) => (upload.done = share));
    void router.push({ name: 'prepare', params: { id } });
  } catch (error) {
    if (!shot && id) await api.deleteShot(id).catch(() => undefined);
    if (!upload.abort.signal.aborted) notifyError(error);
  } finally {
    uploads.value = uploads.value.filter((u) => u.name !== upload.name);
  }
}

/** Files whose grouping is being looked at. */
const asking = ref<{ groups: Group[]; shot: ShotCard | undefined }>();

async function take(files: Dropped[], shot?: ShotCard): Promise<void> {
  const scene = sceneFiles(files.map((f) => f.file));
  if (scene.length) await takeScene(scene, shot);
  const { groups, refused } = await sortFiles(files);
  if (refused.length)
    ElMessage({
      type: 'warning',
      duration: 8000,
      showClose: true,
      message: `Left out: ${refused.map((f) => f.path).join(', ')}. Drop pictures (${PICTURES}) with the .json that belongs to them, or a scene (.glb, .gltf).`,
    });
  if (worthAsking(groups)) asking.value = { groups, shot };
  else await bring(groups, shot);
}

/** Sends groups, one after the other; several versions of one name are versions of one shot. */
async function bring(groups: Group[], shot: ShotCard | undefined): Promise<void> {
  asking.value = undefined;
  const made = new Map<string, string>();
  for (const group of groups) {
    const name = group.version ? `${group.name} ${group.version}` : group.name;
    const upload = ref<Upload>({ name, done: 0, abort: new AbortController() }).value;
    uploads.value.push(upload);
    try {
      const known = shot?.id ?? (group.version ? made.get(group.name) : undefined);
      made.set(group.name, await addFiles(group, known, upload));
    } catch (error) {
      if (!upload.abort.signal.aborted) notifyError(error);
    } finally {
      uploads.value = uploads.value.filter((u) => u.name !== upload.name);
      await load();
    }
  }
}

function dropped(event: DragEvent, shot?: ShotCard): void {
  dragging.value = 0;
  if (!event.dataTransfer) return;
  void droppedFiles(event.dataTransfer)
    .then((files) => (files.length ? take(files, shot) : undefined))
    .catch(notifyError);
}
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  void take(chosenFiles(input.files));
  input.value = '';
}

/** A scene without a picture, and none on its way. */
const toPrepare = (shot: ShotCard) =>
  shot.hasScene && (shot.version === null || shot.versionState === 'failed');
function open(shot: ShotCard): void {
  if (shot.versionState === 'ready' || shot.preview)
    void router.push({ name: 'correct', params: { id: shot.id } });
  else if (toPrepare(shot)) void router.push({ name: 'prepare', params: { id: shot.id } });
}

/** Reading failed or was cancelled: the files are still there. */
async function readAgain(shot: ShotCard): Promise<void> {
  await api.readVersion(shot.versionId!).catch(notifyError);
  await load();
}

async function beginRename(shot: ShotCard): Promise<void> {
  renaming.value = shot.id;
  newName.value = shot.name;
  await nextTick();
  document.querySelector<HTMLInputElement>('.renaming input')?.select();
}
async function endRename(shot: ShotCard, keep: boolean): Promise<void> {
  if (renaming.value !== shot.id) return;
  renaming.value = undefined;
  const name = newName.value.trim();
  if (!keep || !name || name === shot.name) return;
  try {
    await api.renameShot(shot.id, name);
  } catch (error) {
    notifyError(error);
  }
  await load();
}

async function remove(shot: ShotCard): Promise<void> {
  try {
    await api.deleteShot(shot.id);
  } catch (error) {
    return notifyError(error);
  }
  await load();
  const note = ElMessage({
    duration: 12000,
    showClose: true,
    message: h('span', [
      `“${shot.name}” was deleted. `,
      h(
        'button',
        {
          class: 'plain-button undo-delete',
          style: 'text-decoration: underline; font-weight: 600',
          onClick: () => {
            note.close();
            void api.restoreShot(shot.id).then(load, notifyError);
          },
        },
        'Undo',
      ),
    ]),
  });
}
</script>

<template>
  <section
    class="wall scroll"
    :class="{ dragging: dragging > 0 }"
    @dragenter.prevent="dragging++"
    @dragover.prevent
    @dragleave="dragging--"
    @drop.prevent="dropped($event)"
  >
    <header>
      <h1>Shots</h1>
      <span class="hint"
        >Drop rendered files or a folder of them, or a scene to render, to begin a new shot</span
      >
      <ElButton :icon="FilePlus2" @click="chooser?.click()">New shot from files…</ElButton>
      <input ref="chooser" type="file" multiple :accept="ACCEPTED" hidden @change="chosen" />
    </header>

    <div v-if="busy" class="uploads">
      <div v-for="upload in uploads" :key="upload.name" class="upload">
        <span class="cut">Receiving {{ upload.name }}</span>
        <ElProgress
          aria-label="Progress"
          :percentage="Math.round(upload.done * 100)"
          :stroke-width="6"
          color="#33322e"
        />
        <ElButton size="small" text @click="upload.abort.abort()">Cancel</ElButton>
      </div>
    </div>

    <div v-if="loaded && shots.length === 0 && !busy" class="empty">
      <img src="/crow.svg" alt="" width="72" height="72" />
      <h2>No shots yet</h2>
      <p>
        Drop an OpenEXR file with a cryptomatte here, together with its .json if its list of names is in one;
        or a scene (.glb) to plan and render its passes.
      </p>
    </div>

    <ul class="cards">
      <li
        v-for="shot in shots"
        :key="shot.id"
        class="card"
        :class="{ failed: shot.versionState === 'failed' }"
      >
        <button
          class="plain-button picture"
          type="button"
          :aria-label="`Open ${shot.name}`"
          :disabled="!shot.preview && !toPrepare(shot)"
          @click="open(shot)"
          @dragover.prevent
          @drop.prevent.stop="dropped($event, shot)"
        >
          <img v-if="shot.preview" :src="fileUrl(shot.preview)" :alt="shot.name" draggable="false" />
          <span v-else-if="reading(shot)" class="note"
            >Reading… {{ Math.round((reading(shot)?.progress ?? 0) * 100) }} %</span
          >
          <span v-else-if="shot.versionState === 'failed'" class="note">Cannot be used</span>
          <span v-else class="note">{{ shot.hasScene ? 'Not rendered yet' : 'No picture yet' }}</span>
        </button>
        <div class="legend">
          <ElInput
            v-if="renaming === shot.id"
            v-model="newName"
            class="renaming"
            size="small"
            maxlength="200"
            aria-label="Name of the shot"
            @keydown.enter="endRename(shot, true)"
            @keydown.esc="endRename(shot, false)"
            @blur="endRename(shot, true)"
          />
          <strong v-else class="cut name" :title="shot.name" @dblclick="beginRename(shot)">{{
            shot.name
          }}</strong>
          <span class="facts">
            {{ shot.version ? `v${shot.version}` : 'no version' }} ·
            {{ shot.openChanges === 1 ? '1 open change' : `${shot.openChanges} open changes` }} ·
            {{ ago(shot.edited) }}
          </span>
          <p v-if="shot.versionState === 'failed'" class="problem">
            {{ shot.problem }}
            <ElButton v-if="shot.versionId" size="small" text @click="readAgain(shot)">Read again</ElButton>
          </p>
          <span class="tools">
            <button
              class="plain-button"
              type="button"
              :aria-label="`Rename ${shot.name}`"
              @click="beginRename(shot)"
            >
              <Pencil :size="15" :stroke-width="1.6" />
            </button>
            <button
              class="plain-button"
              type="button"
              :aria-label="`Delete ${shot.name}`"
              @click="remove(shot)"
            >
              <Trash2 :size="15" :stroke-width="1.6" />
            </button>
          </span>
        </div>
      </li>
    </ul>
    <BringIn
      v-if="asking"
      :groups="asking.groups"
      :into="asking.shot?.name"
      @bring="bring($event, asking!.shot)"
      @close="asking = undefined"
    />
  </section>
</template>

<style scoped>
.wall {
  height: 100%;
  padding: 22px 28px 40px;
  border: 3px solid transparent;
}
.wall.dragging {
  border-color: var(--lemon);
}
header {
  display: flex;
  align-items: center;
  gap: 18px;
  color: var(--on-room);
  margin-bottom: 18px;
}
h1 {
  font-size: 24px;
  font-weight: 500;
  margin: 0;
}
.hint {
  flex: 1;
  color: var(--on-room);
}
.uploads {
  margin-bottom: 18px;
}
.upload {
  display: grid;
  grid-template-columns: 260px 1fr auto;
  align-items: center;
  gap: 14px;
  background: var(--paper);
  padding: 6px 14px;
}
.empty {
  margin: 12vh auto 0;
  max-width: 460px;
  text-align: center;
  color: var(--on-room);
}
.empty h2 {
  font-weight: 500;
}
.cards {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 22px;
}
.card {
  background: var(--paper);
  box-shadow: 0 2px 8px rgb(0 0 0 / 28%);
  padding: 10px 10px 0;
}
.picture {
  display: grid;
  place-items: center;
  width: 100%;
  aspect-ratio: 16 / 9;
  background: var(--room-deep);
  overflow: hidden;
}
.picture:disabled {
  opacity: 1;
}
.picture img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.note {
  color: var(--on-room);
}
.legend {
  position: relative;
  padding: 8px 60px 10px 2px;
}
.name {
  display: block;
  font-size: 16px;
  font-weight: 600;
}
.facts {
  color: var(--ink-quiet);
  font-size: 13px;
}
.problem {
  margin: 6px -58px 0 0;
  color: var(--alarm);
  font-size: 13px;
}
.tools {
  position: absolute;
  right: 2px;
  top: 10px;
  display: flex;
  gap: 12px;
  color: var(--ink-quiet);
}
.tools button:hover {
  color: var(--ink);
}
</style>
