import type { FileGroup } from '@zesty-crow/core/version';
import { holdFiles, letFilesGo, type LocalFile } from '../../picture/local-files.ts';
import { api } from '../../server/api.ts';
import { newFileUpload, type FileUpload, type Upload } from './uploads.ts';

/** A file with the folders that it was dropped with: here, or on the server's machine in one of its folders. */
export interface Dropped {
  path: string;
  size: number;
  from: File | { folder: string };
}
/** Files that make one version of a shot. */
export type Group = FileGroup<Dropped>;

/** Files that are sent at a time. */
const LANES = 3;

const endingOf = (path: string) => path.slice(path.lastIndexOf('.') + 1).toLowerCase();
/** Endings of the files of a scene. */
const SCENE = ['glb', 'gltf', 'bin', 'png', 'jpg', 'jpeg'];

/** The files of a scene among others: empty unless there is a .glb or .gltf. */
export function sceneFiles(files: File[]): File[] {
  const found = files.filter((f) => SCENE.includes(endingOf(f.name)));
  return found.some((f) => ['glb', 'gltf'].includes(endingOf(f.name))) ? found : [];
}

/** Sends a file, and keeps count of it. */
async function send(
  upload: Upload,
  file: FileUpload,
  work: (signal: AbortSignal, onSent: (bytes: number) => void) => Promise<unknown>,
): Promise<void> {
  if (file.state === 'left out') return;
  file.state = 'sending';
  const signal = AbortSignal.any([upload.abort.signal, file.abort.signal]);
  try {
    await work(signal, (bytes) => (file.sent = bytes));
    [file.state, file.sent] = ['sent', file.size];
  } catch (error) {
    // This one is not wanted; the others are.
    if (!file.abort.signal.aborted || upload.abort.signal.aborted) throw error;
    file.state = 'left out';
  }
}

/** Sends a scene with its files and has it read. Rejects with what to do if there is no scene among the files. */
export async function addScene(files: File[], shotId: string, upload: Upload): Promise<void> {
  const scene = sceneFiles(files);
  if (scene.length === 0)
    throw new Error('There is no scene among these files. Choose a .glb, or a .gltf with its files.');
  // The scene itself comes last: with it the rest must be there.
  scene.sort((a, b) => Number(endingOf(a.name).startsWith('gl')) - Number(endingOf(b.name).startsWith('gl')));
  upload.files = scene.map((f) => newFileUpload(f.name, f.size));
  for (const [i, file] of scene.entries())
    await send(upload, upload.files[i]!, (signal, onSent) => api.uploadScene(shotId, file, signal, onSent));
  await api.readScene(shotId);
}

/**
 * Sorts dropped files into versions of shots by their names. Those of a scene are not among them: beside a .glb or .gltf
 * a PNG is what covers a surface.
 */
export async function sortFiles(files: readonly Dropped[]): Promise<{ groups: Group[]; refused: Dropped[] }> {
  // Loaded with the first files: the wall of shots is there without it.
  const { groupFiles } = await import('@zesty-crow/core/version');
  const own = files.flatMap((f) => (f.from instanceof File ? [f.from] : []));
  const scene = new Set<unknown>(sceneFiles(own));
  const { groups, refused } = groupFiles(files.filter((f) => !scene.has(f.from)));
  return { groups, refused: refused.map((r) => r.file) };
}

/** True if there is something to look at before the files are sent: one picture with its names needs no question. */
export const worthAsking = (groups: readonly Group[]): boolean =>
  groups.some((g) => g.doubts.length > 0 || g.files.filter((f) => f.role === 'picture').length > 1);

/** A shot's name from what its files begin with. */
export function shotName(file: string): string {
  const name =
    file
      .replace(/\.\w+$/, '')
      .replace(/[_.]+/g, ' ')
      .trim() || 'Untitled';
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** Where a group goes: into a version that is there, as the next version of a shot, or by default into a new shot. */
export interface Into {
  shotId?: string | undefined;
  versionId?: string | undefined;
  /** True for a version of frames with numbers: one that is added has its own, too. */
  sequence?: boolean;
}

/**
 * Sends a group and has it read; what is on the server's machine is fetched there. Resolves with the shot's id.
 * @param begun told as soon as shot and version are there: the files can be worked on while they are sent
 */
export async function addFiles(
  group: Group,
  into: Into,
  upload: Upload,
  begun: (shotId: string) => void = () => undefined,
): Promise<string> {
  // Several passes of one picture are a picture, whatever number they have.
  const frames = new Set(group.files.map((f) => f.frame).filter((n) => n !== null));
  const files = group.files.map(({ file, role, frame }) => ({
    file,
    role,
    frame: frames.size > 1 || into.sequence ? frame : null,
  }));
  // Names come first: with the pictures they must be there.
  files.sort((a, b) => Number(a.role === 'picture') - Number(b.role === 'picture'));
  const name = (f: Dropped) => f.path.slice(f.path.lastIndexOf('/') + 1);
  const id = into.shotId ?? (await api.createShot(shotName(group.name))).id;
  let versionId = into.versionId;
  try {
    versionId ??= (await api.createVersion(id)).id;
    const folder = files.map((f) => f.file.from).find((from) => !(from instanceof File));
    if (folder && !(folder instanceof File)) {
      await api.takeFiles(
        versionId,
        folder.folder,
        files.map((f) => ({ path: f.file.path, frame: f.frame })),
      );
      return id;
    }
    const own = files.flatMap(({ file, role, frame }): LocalFile[] =>
      file.from instanceof File ? [{ role, name: name(file), frame, size: file.size, file: file.from }] : [],
    );
    if (!into.versionId) {
      holdFiles(versionId, own);
      begun(id);
    }
    upload.files = own.map((f) => newFileUpload(f.name, f.size));
    const to = versionId;
    const left = own.entries();
    const lane = async (): Promise<void> => {
      for (const [i, { file, frame }] of left)
        await send(upload, upload.files[i]!, (signal, onSent) =>
          api.upload(to, file, signal, onSent, frame ?? undefined),
        );
    };
    await Promise.all(Array.from({ length: LANES }, lane));
    await api.readVersion(versionId);
    return id;
  } catch (error) {
    // What is still being sent has nowhere to go.
    for (const f of upload.files) f.abort.abort();
    // What did not arrive leaves nothing behind: no empty frame on the wall, no version without a picture.
    if (!into.versionId) {
      if (versionId) letFilesGo(versionId);
      if (!into.shotId) await api.deleteShot(id);
      else if (versionId) await api.discardVersion(versionId);
    }
    throw error;
  }
}
