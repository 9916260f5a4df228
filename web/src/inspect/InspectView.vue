<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, defineAsyncComponent, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import type { Finding, Remedy } from '@zesty-crow/core/findings';
import type { WallPass } from '@zesty-crow/core/inspect';
import type { RoleUse } from '@zesty-crow/core/roles';
import type { ChannelMask } from '@zesty-crow/core/version';
import type { StoredFile } from '@zesty-crow/server/contract';
import { useChanges } from '../shot/changes/changes.ts';
import { useView } from '../shot/view.ts';
import type { Member } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { api } from '../server/api.ts';
import { notify, notifyError, tellUndo } from '../server/notify.ts';
import FindingsPanel from '../shot/FindingsPanel.vue';
import FrameStrip from '../shot/FrameStrip.vue';
import StageColumns from '../shot/columns/StageColumns.vue';
import { shareOfWindow, useColumns } from '../shot/columns/use-columns.ts';
import ShotBar from '../shot/ShotBar.vue';
import { useOpenVersion } from '../shot/use-open-version.ts';
import { useShot } from '../shot/use-shot.ts';
import VersionChoice from '../shot/VersionChoice.vue';
import { addFiles, sortFiles, type Dropped, type Group } from '../shot/bring-in/add-files.ts';
import { chosenFiles, droppedFiles } from '../shot/bring-in/dropped-files.ts';
import { useUploads } from '../shot/bring-in/uploads.ts';
import CastTable from './CastTable.vue';
import FilesPanel from './FilesPanel.vue';
import { beginMending } from './mendings.ts';
import PassLarge from './PassLarge.vue';
import { useInterpretation } from './use-interpretation.ts';
import WallTile from './WallTile.vue';

const AddToVersion = defineAsyncComponent(() => import('./AddToVersion.vue'));
const ChoosePicture = defineAsyncComponent(() => import('./ChoosePicture.vue'));
const CompareView = defineAsyncComponent(() => import('./CompareView.vue'));
const MaskMaker = defineAsyncComponent(() => import('./MaskMaker.vue'));
const RoleMaker = defineAsyncComponent(() => import('./RoleMaker.vue'));

/** What arrived: every pass on a wall, what is wrong, and everything in it that has an ID. */
const props = defineProps<{ id: string }>();
const columns = useColumns('inspect', {
  right: { label: 'findings and cast', narrowest: 260, usual: shareOfWindow(0.28, 260, 360) },
});
const router = useRouter();
const picture = usePicture();
const changes = useChanges();
const uploads = useUploads();
const { shot, load } = useShot(props.id);

/** What stands in the place of the wall: a pass, a mask that is being made, another version. */
type Screen =
  | { of: 'pass'; name: string; finding?: Finding }
  | { of: 'mask'; mask: ChannelMask }
  | { of: 'role'; layer: string }
  | { of: 'versions' };
const screen = shallowRef<Screen>();
const choosing = ref(false);

const { ready, version, failed, frame, frames, findings, open, tellNone } = useOpenVersion(shot);
const { interpret } = useInterpretation(version);
const wall = computed(() => picture.opened?.wall ?? []);
const pass = computed(() => {
  const { value } = screen;
  return value?.of === 'pass' ? wall.value.find((p) => p.name === value.name) : undefined;
});
const ratio = computed(() => (picture.size ? picture.size.width / picture.size.height : 16 / 9));
/** Why the picture is taken for it, where that is worth a word. */
const why = computed(() => {
  const choice = picture.opened?.choice;
  return choice && !(choice.layers.length === 1 && choice.layers[0] === 'RGBA') ? choice.why : undefined;
});
const others = computed(() => ready.value.filter((v) => v.id !== version.value?.id && v.state === 'ready'));
const masks = computed(() => version.value?.interpretation.masks ?? []);
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

/** A new change, and clicks in the picture take from this ID layer. */
async function pickFrom(layer: string): Promise<void> {
  useView().layer = layer;
  await beginChange(layer, []);
}

// ---- what the artist knows better

function choosePicture(layers: string[] | undefined): void {
  choosing.value = false;
  void interpret(
    ({ picture: _, ...old }) => (layers ? { ...old, picture: layers } : old),
    layers ? `The picture is ${layers.join(' and ')} now.` : 'The picture is found by the rules again.',
  );
}
const setEncoding = (layer: string, display: boolean) =>
  void interpret(
    (old) => ({ ...old, encodings: { ...old.encodings, [layer]: display ? 'display' : 'scene-linear' } }),
    display ? 'Its values are taken as made for a screen.' : 'Its values are taken as light.',
  );
/** Does what a finding offers. */
function mend(remedy: Remedy): void {
  if ('mend' in remedy) return beginMending(version.value!.id, remedy.mend);
  if ('encoding' in remedy) return void setEncoding(remedy.encoding.layer, remedy.encoding.display);
  const { file, x, y } = remedy.place;
  void interpret(
    (old) => ({ ...old, places: { ...old.places, [file]: { x, y } } }),
    `${file} was laid there.`,
  );
}
/** Layers that can be said to be ID passes. */
const roleRows = computed(() => picture.opened?.roles ?? []);
const layersOf = (p: WallPass): string[] =>
  roleRows.value.filter((r) => r.channels.some((c) => p.channels.includes(c))).map((r) => r.layer);
function keepRole(layer: string, use: RoleUse): void {
  void interpret(
    (old) => ({ ...old, roles: { ...old.roles, [layer]: use } }),
    use.role === 'pass' ? `${layer} is no ID pass.` : `${layer} can be picked from.`,
  );
}

/** A mask that begins with one channel, called after it. */
async function beginMask(pass: string, channel: string): Promise<void> {
  const names = new Set(masks.value.map((m) => m.name));
  let name = channel;
  for (let n = 2; names.has(name); n++) name = `${channel} ${n}`;
  // What is a share already is from 0 to 1; anything else between the values that were found.
  const { from, to } = (await picture.pass(pass, 200, channel))?.range ?? { from: 0, to: 1 };
  const round = (v: number) => Number(v.toPrecision(3));
  const mask = { name, channels: [{ channel, times: 1 }], from: round(from), to: round(to) };
  screen.value = { of: 'mask', mask };
}
function keepMask(mask: ChannelMask, was: string): void {
  screen.value = undefined;
  void interpret(
    (old) => ({ ...old, masks: [...(old.masks ?? []).filter((m) => m.name !== was), mask] }),
    `${mask.name} can be picked from Masks.`,
  );
}
function removeMask(name: string): void {
  void interpret(
    (old) => ({ ...old, masks: (old.masks ?? []).filter((m) => m.name !== name) }),
    `The mask ${name} was removed.`,
  );
}
function openMask(name: string): void {
  const mask = masks.value.find((m) => m.name === name);
  if (mask) screen.value = { of: 'mask', mask };
}

/** The same for the command line, as a file. */
function saveInterpretation(): void {
  const text = JSON.stringify(version.value?.interpretation, null, 2);
  const url = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  const link = Object.assign(document.createElement('a'), { href: url, download: 'interpretation.json' });
  link.click();
  URL.revokeObjectURL(url);
}

// ---- files

const chooser = ref<HTMLInputElement>();
const dragging = ref(0);
/** Files that were dropped and wait for a word. */
const adding = shallowRef<Group>();
/** The version whose files are shown, and to which they are added. */
const home = computed(() => (version.value?.state === 'ready' ? version.value : failed.value));
const isSequence = computed(() => frames.value.length > 0);

async function take(files: Dropped[]): Promise<void> {
  const { groups } = await sortFiles(files);
  const [first] = groups;
  if (!first)
    return notify(
      'There is no picture among these files. Add pictures, with the .json that belongs to them.',
    );
  adding.value = { ...first, files: groups.flatMap((g) => g.files) };
}
async function send(group: Group, versionId: string | undefined): Promise<void> {
  adding.value = undefined;
  const into = { shotId: props.id, versionId, sequence: versionId !== undefined && isSequence.value };
  try {
    await uploads.run(group.name, (upload) => addFiles(group, into, upload));
  } catch (error) {
    notifyError(error);
  }
}
function dropped(event: DragEvent): void {
  dragging.value = 0;
  if (!event.dataTransfer?.types.includes('Files')) return;
  void droppedFiles(event.dataTransfer)
    .then((files) => (files.length && home.value ? take(files) : undefined))
    .catch(notifyError);
}
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  void take(chosenFiles(input.files)).catch(notifyError);
  input.value = '';
}
async function takeOut({ id, name }: StoredFile): Promise<void> {
  const v = home.value!.id;
  try {
    await api.retireFile(v, id);
    tellUndo(`${name} was taken out.`, () => api.restoreFile(v, id));
  } catch (error) {
    notifyError(error);
  }
}
</script>

<template>
  <div
    class="inspect"
    :class="{ dragging: dragging > 0 }"
    @dragenter.prevent="dragging++"
    @dragover.prevent
    @dragleave="dragging--"
    @drop.prevent="dropped"
  >
    <ShotBar :name="shot?.name" :document="changes">
      <VersionChoice :version="version" :ready="ready" @open="open($event)" />
      <ElButton v-if="others.length" size="small" @click="screen = { of: 'versions' }"
        >Compare versions</ElButton
      >
      <span v-if="wall.length" class="count">{{ wall.length }} passes</span>
    </ShotBar>
    <StageColumns class="below" :columns="columns">
      <div class="centre">
        <p v-if="picture.problem" class="problem" role="alert">{{ picture.problem }}</p>
        <p v-else-if="!picture.opened" class="problem" role="status">
          Reading… {{ Math.round((picture.progress?.share ?? 0) * 100) }} %
        </p>
        <MaskMaker
          v-else-if="screen?.of === 'mask'"
          :key="screen.mask.name"
          :mask="screen.mask"
          :known="masks"
          @keep="keepMask($event, (screen as { mask: ChannelMask }).mask.name)"
          @remove="removeMask"
          @open="openMask"
          @save="saveInterpretation"
          @close="screen = undefined"
        />
        <RoleMaker
          v-else-if="screen?.of === 'role' && version && roleRows.length"
          :layer="screen.layer"
          :rows="roleRows"
          :version-id="version.id"
          @keep="keepRole"
          @open="screen = { of: 'role', layer: $event }"
          @close="screen = undefined"
        />
        <CompareView
          v-else-if="screen?.of === 'versions' && version"
          :version="version"
          :others="others"
          :frame="frame"
          @close="screen = undefined"
        />
        <PassLarge
          v-else-if="pass"
          :pass="pass"
          :wall="wall"
          :places="screen?.of === 'pass' ? screen.finding?.places : undefined"
          @close="screen = undefined"
          @pick="pickFrom(pass.name)"
          @mask="beginMask(pass.name, $event)"
          @encoding="setEncoding"
        />
        <div v-else class="wall scroll">
          <WallTile
            v-for="p in wall"
            :key="p.name"
            :pass="p"
            :ratio="ratio"
            :bytes="bytes"
            :why="p.name === 'picture' ? why : undefined"
            :class="{ first: p.name === 'picture' }"
            @open="screen = { of: 'pass', name: p.name }"
          >
            <button
              v-if="p.name === 'picture' && picture.opened.colourLayers.length > 1"
              class="plain-button tool"
              type="button"
              @click="choosing = true"
            >
              Choose another…
            </button>
            <button
              v-else-if="layersOf(p).length"
              class="plain-button tool"
              type="button"
              @click="screen = { of: 'role', layer: layersOf(p)[0]! }"
            >
              {{ p.shownAs === 'ids' ? 'Names…' : 'Use as ID pass…' }}
            </button>
            <button
              v-else-if="p.name === 'Masks' && masks.length"
              class="plain-button tool"
              type="button"
              @click="openMask(masks[0]!.name)"
            >
              Edit…
            </button>
          </WallTile>
        </div>
        <FrameStrip
          v-if="version && frames.length > 1"
          :frames="frames"
          :frame="frame"
          :files="version.files"
          @open="open(version, $event)"
        />
      </div>
      <template #right>
        <div class="side">
          <FindingsPanel
            :findings="findings"
            opened
            acts
            @show="screen = { of: 'pass', name: wall[0]!.name, finding: $event }"
            @mend="mend"
          />
          <FilesPanel
            v-if="home"
            :files="home.files"
            :opened="home === failed"
            @add="chooser?.click()"
            @remove="takeOut"
          />
          <CastTable :frames="frames" @change="beginChange" />
        </div>
      </template>
    </StageColumns>
    <input ref="chooser" type="file" multiple hidden @change="chosen" />
    <ChoosePicture
      v-if="choosing && picture.opened"
      :layers="picture.opened.colourLayers.filter((l) => l !== 'added up')"
      :choice="picture.opened.choice"
      :ratio="ratio"
      :by-hand="version?.interpretation.picture !== undefined"
      @choose="choosePicture"
      @close="choosing = false"
    />
    <AddToVersion
      v-if="adding && home"
      :group="adding"
      :version="home"
      :sequence="isSequence"
      @add="send(adding, home.id)"
      @next="send(adding, undefined)"
      @close="adding = undefined"
    />
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
}
.centre {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
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
@media (min-width: 1700px) {
  /* Where others fit beside it twice over. */
  .first {
    grid-row: span 2;
  }
}
.side {
  display: flex;
  flex-direction: column;
  height: 100%;
  overflow-y: auto;
}
.side > :last-child {
  flex: 1;
  min-height: 260px;
}
.inspect.dragging {
  outline: 3px solid var(--lemon);
  outline-offset: -3px;
}
.tool {
  margin-left: 4px;
  text-decoration: underline;
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
