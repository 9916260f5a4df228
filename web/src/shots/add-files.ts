import type { FileGroup } from '@zesty-crow/core/version';
import { api } from '../server/api.ts';

/** A file with the folders that it was dropped with. */
export interface Dropped {
  path: string;
  file: File;
}
/** Files that make one version of a shot. */
export type Group = FileGroup<Dropped>;

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

/**
 * Sorts dropped files into versions of shots by their names. Those of a scene are not among them: beside a .glb or .gltf
 * a PNG is what covers a surface.
 */
export async function sortFiles(files: readonly Dropped[]): Promise<{ groups: Group[]; refused: Dropped[] }> {
  // Loaded with the first files: the wall of shots is there without it.
  const { groupFiles } = await import('@zesty-crow/core/version');
  const scene = new Set(sceneFiles(files.map((f) => f.file)));
  const { groups, refused } = groupFiles(files.filter((f) => !scene.has(f.file)));
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

/** Sends a group as the next version of a shot, or of a new one; then has it read. Resolves with the shot's id. */
export async function addFiles(group: Group, shotId: string | undefined, upload: Upload): Promise<string> {
  const { signal } = upload.abort;
  const id = shotId ?? (await api.createShot(shotName(group.name))).id;
  // A single picture is a picture, whatever number it has.
  const frames = new Set(group.files.map((f) => f.frame).filter((n) => n !== null));
  let versionId: string | undefined;
  try {
    versionId = (await api.createVersion(id)).id;
    // Names come first: with the pictures they must be there.
    const files = [...group.files].sort(
      (a, b) => Number(a.role === 'picture') - Number(b.role === 'picture'),
    );
    const total = files.reduce((sum, f) => sum + f.file.file.size, 0);
    let sent = 0;
    for (const { file, frame } of files) {
      await api.upload(
        versionId,
        file.file,
        signal,
        (bytes) => (upload.done = (sent + bytes) / total),
        frames.size > 1 && frame !== null ? frame : undefined,
      );
      sent += file.file.size;
    }
    await api.readVersion(versionId);
    return id;
  } catch (error) {
    // What did not arrive leaves nothing behind: no empty frame on the wall, no version without a picture.
    if (!shotId) await api.deleteShot(id);
    else if (versionId) await api.discardVersion(versionId);
    throw error;
  }
}
