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

/** Sorts dropped files: every EXR becomes a version, the JSON files go with each of them. */
export function sortFiles(files: File[]): { groups: FileGroup[]; refused: File[] } {
  const ending = (f: File) => f.name.slice(f.name.lastIndexOf('.') + 1).toLowerCase();
  const pictures = files.filter((f) => ending(f) === 'exr');
  const sidecars = files.filter((f) => ending(f) === 'json');
  const refused = files.filter((f) => !['exr', 'json'].includes(ending(f)));
  if (pictures.length === 0) return { groups: [], refused: [...refused, ...sidecars] };
  return { groups: pictures.map((picture) => ({ picture, sidecars })), refused };
}

/** Sends a group as the next version of a shot, or of a new one; then has it read. */
export async function addFiles(group: FileGroup, shotId: string | undefined, upload: Upload): Promise<void> {
  const { signal } = upload.abort;
  let id = shotId;
  if (!id) {
    const name =
      group.picture.name
        .replace(/\.exr$/i, '')
        .replace(/[_.]+/g, ' ')
        .trim() || 'Untitled';
    id = (await api.createShot(name.charAt(0).toUpperCase() + name.slice(1))).id;
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
