<script setup lang="ts">
import { ElButton, ElMessage } from 'element-plus';
import { FilePlus2, FolderInput, Pencil, Trash2 } from '@lucide/vue';
import { defineAsyncComponent, onMounted, onUnmounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { READERS } from '@zesty-crow/core/formats';
import type { ShotCard } from '@zesty-crow/server/contract';
import RenameInput from '../fields/RenameInput.vue';
import { api, fileUrl } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError, tellUndo } from '../server/notify.ts';
import { useJobs } from '../server/jobs.ts';
import {
  addFiles,
  addScene,
  sceneFiles,
  shotName,
  sortFiles,
  worthAsking,
  type Dropped,
  type Group,
} from '../shot/bring-in/add-files.ts';
import { knownAlready, tellKnown } from './known-files.ts';
import { useUploads } from '../shot/bring-in/uploads.ts';
import { ago } from '../shot/ago.ts';
import { chosenFiles, droppedFiles } from '../shot/bring-in/dropped-files.ts';

const ServerFolder = defineAsyncComponent(() => import('./ServerFolder.vue'));
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
const uploads = useUploads();
/** Folders on the server's machine that were allowed. */
const folders = ref<string[]>([]);
const choosingFolder = ref(false);
const renaming = ref<string>();
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
onMounted(async () => (folders.value = (await api.folder().catch(() => ({ folders: [] }))).folders));
onUnmounted(stopListening);

const reading = (shot: ShotCard) => jobs.underWay.find((j) => j.shot_id === shot.id && j.kind === 'ingest');

/** A scene begins a shot in Prepare, or becomes the scene of the shot it is dropped on. */
async function takeScene(files: File[], shot?: ShotCard): Promise<void> {
  const scene = files.find((f) => /\.gl(b|tf)$/i.test(f.name))!;
  let id = shot?.id;
  try {
    await uploads.run(scene.name, async (upload) => {
      id ??= (await api.createShot(shotName(scene.name))).id;
      await addScene(files, id, upload);
      void router.push({ name: 'prepare', params: { id } });
    });
  } catch (error) {
    if (!shot && id) await api.deleteShot(id).catch(() => undefined);
    notifyError(error);
  }
}

/** Files whose grouping is being looked at. */
const asking = ref<{ groups: Group[]; shot: ShotCard | undefined }>();

async function take(files: Dropped[], shot?: ShotCard): Promise<void> {
  const scene = sceneFiles(files.flatMap((f) => (f.from instanceof File ? [f.from] : [])));
  if (scene.length) await takeScene(scene, shot);
  const sorted = await sortFiles(files);
  if (sorted.refused.length)
    ElMessage({
      type: 'warning',
      duration: 8000,
      showClose: true,
      message: `Left out: ${listed(sorted.refused.map((f) => f.path))}. Drop pictures (${PICTURES}) with the .json that belongs to them, or a scene (.glb, .gltf).`,
    });
  const pictures = sorted.groups.flatMap((g) => g.files.map((f) => f.file));
  // It is only to spare work: without an answer they are brought in.
  const known = await knownAlready(pictures).catch(() => new Map<Dropped, never>());
  const groups = tellKnown(sorted.groups, known);
  if (worthAsking(groups)) asking.value = { groups, shot };
  else await bring(groups, shot);
}

/**
 * Sends groups, one after the other; several versions of one name are versions of one shot. A single one is opened at
 * once, from the files themselves.
 */
async function bring(groups: Group[], shot: ShotCard | undefined): Promise<void> {
  asking.value = undefined;
  const made = new Map<string, string>();
  const open = (id: string) => void (groups.length === 1 && router.push({ name: 'inspect', params: { id } }));
  for (const group of groups) {
    const name = group.version ? `${group.name} ${group.version}` : group.name;
    try {
      await uploads.run(name, async (upload) => {
        const shotId = shot?.id ?? (group.version ? made.get(group.name) : undefined);
        made.set(group.name, await addFiles(group, { shotId }, upload, open));
      });
    } catch (error) {
      notifyError(error);
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
function fromFolder(files: Dropped[]): void {
  choosingFolder.value = false;
  void take(files).catch(notifyError);
}
/** Names in a sentence: a long list is cut. */
const listed = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ');
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  void take(chosenFiles(input.files)).catch(notifyError);
  input.value = '';
}

/** A scene without a picture, and none on its way. */
const toPrepare = (shot: ShotCard) =>
  shot.hasScene && (shot.version === null || shot.versionState === 'failed');
function open(shot: ShotCard): void {
  if (shot.versionState === 'ready' || shot.preview)
    void router.push({ name: 'correct', params: { id: shot.id } });
  // Its files can be replaced there.
  else if (shot.versionState === 'failed' && !toPrepare(shot))
    void router.push({ name: 'inspect', params: { id: shot.id } });
  else if (toPrepare(shot)) void router.push({ name: 'prepare', params: { id: shot.id } });
}

/** Reading failed or was cancelled: the files are still there. */
async function readAgain(shot: ShotCard): Promise<void> {
  await api.readVersion(shot.versionId!).catch(notifyError);
  await load();
}

async function rename(shot: ShotCard, name: string | undefined): Promise<void> {
  renaming.value = undefined;
  if (!name) return;
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
  tellUndo(`“${shot.name}” was deleted.`, () => api.restoreShot(shot.id).then(load));
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
      <ElButton v-if="folders.length" :icon="FolderInput" @click="choosingFolder = true"
        >From the server’s machine…</ElButton
      >
      <ElButton :icon="FilePlus2" @click="chooser?.click()">New shot from files…</ElButton>
      <input ref="chooser" type="file" multiple :accept="ACCEPTED" hidden @change="chosen" />
    </header>

    <div v-if="loaded && shots.length === 0 && !uploads.busy" class="empty">
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
          :disabled="!shot.preview && !toPrepare(shot) && shot.versionState !== 'failed'"
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
          <RenameInput
            v-if="renaming === shot.id"
            class="renaming"
            :name="shot.name"
            label="Name of the shot"
            @end="rename(shot, $event)"
          />
          <strong v-else class="cut name" :title="shot.name" @dblclick="renaming = shot.id">{{
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
              @click="renaming = shot.id"
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
    <ServerFolder v-if="choosingFolder" @bring="fromFolder" @close="choosingFolder = false" />
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
