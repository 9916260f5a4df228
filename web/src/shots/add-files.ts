import { readerByName } from '@zesty-crow/core/formats';
import { api } from '../server/api.ts';

/** One version's worth of files: a picture and the manifests beside it. */
export interface FileGroup {
  picture: File;
  sidecars: File[];
}

/** An upload under way. */
export interface Upload {
  name: string;
  done: number;
  abort: AbortController;
}

const ending = (f: File) => f.name.slice(f.name.lastIndexOf('.') + 1).toLowerCase();
/** Endings of the files of a scene. */
const SCENE = ['glb', 'gltf', 'bin', 'png', 'jpg', 'jpeg'];

/** The files of a scene among others: empty unless there is a .glb or .gltf. */
export function sceneFiles(files: File[]): File[] {
  const found = files.filter((f) => SCENE.includes(ending(f)));
  return found.some((f) => ending(f) === 'glb' || ending(f) === 'gltf') ? found : [];
}

/** Sends a scene with its files and has it read. Rejects with what to do if there is no scene among the files. */
export async function addScene(
  files: File[],
  shotId: string,
  signal: AbortSignal,
  onShare: (share: number) => void,
): Promise<void> {
  const scene = sceneFiles(files);
  if (scene.length === 0)
    throw new Error('There is no scene among these files. Choose a .glb, or a .gltf with its files.');
  // The scene itself comes last: with it the rest must be there.
  scene.sort((a, b) => Number(ending(a).startsWith('gl')) - Number(ending(b).startsWith('gl')));
  const total = scene.reduce((n, f) => n + f.size, 0);
  let sent = 0;
  for (const file of scene) {
    await api.uploadScene(shotId, file, signal, (bytes) => onShare((sent + bytes) / total));
    sent += file.size;
  }
  await api.readScene(shotId);
}

/** Sorts dropped files: every EXR becomes a version, the JSON files go with each of them. */
export function sortFiles(files: File[]): { groups: FileGroup[]; refused: File[] } {
  const pictures = files.filter((f) => readerByName(f.name));
  const sidecars = files.filter((f) => ending(f) === 'json');
  const refused = files.filter((f) => !readerByName(f.name) && !['json', ...SCENE].includes(ending(f)));
  if (pictures.length === 0) return { groups: [], refused: [...refused, ...sidecars] };
  return { groups: pictures.map((picture) => ({ picture, sidecars })), refused };
}

/** A shot's name from a file's. */
export function shotName(file: string): string {
  const name =
    file
      .replace(/\.\w+$/, '')
      .replace(/[_.]+/g, ' ')
      .trim() || 'Untitled';
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** Sends a group as the next version of a shot, or of a new one; then has it read. */
export async function addFiles(group: FileGroup, shotId: string | undefined, upload: Upload): Promise<void> {
  const { signal } = upload.abort;
  let id = shotId;
  if (!id) {
    id = (await api.createShot(shotName(group.picture.name))).id;
  }
  let versionId: string | undefined;
  try {
    versionId = (await api.createVersion(id)).id;
    const files = [...group.sidecars, group.picture];
    const total = files.reduce((sum, f) => sum + f.size, 0);
    let sent = 0;
    for (const file of files) {
      await api.upload(versionId, file, signal, (bytes) => (upload.done = (sent + bytes) / total));
      sent += file.size;
    }
    await api.readVersion(versionId);
  } catch (error) {
    // What did not arrive leaves nothing behind: no empty frame on the wall, no version without a picture.
    if (!shotId) await api.deleteShot(id);
    else if (versionId) await api.discardVersion(versionId);
    throw error;
  }
}
