import type { Version } from '@zesty-crow/server/contract';
import { shallowReactive } from 'vue';
import type { PictureFile } from './messages.ts';
import { fileUrl } from '../server/api.ts';

/** A file of a version that this page has itself: it was dropped here. */
export interface LocalFile {
  role: string;
  name: string;
  frame: number | null;
  size: number;
  file: File;
}

/** By version; as long as the page lives. Holding one costs nothing: its bytes stay on the disk until they are read. */
const held = shallowReactive(new Map<string, readonly LocalFile[]>());

export const holdFiles = (versionId: string, files: readonly LocalFile[]): void =>
  void held.set(versionId, files);
export const letFilesGo = (versionId: string): void => void held.delete(versionId);

/** True for a version that can be opened: read by the server, or made of files that are here and on their way to it. */
export const canBeOpened = ({ id, state }: Version): boolean =>
  state === 'ready' || ((state === 'receiving' || state === 'reading') && held.has(id));

/**
 * The files of a version: what the server has, or, until it has all of them, what is here. Bytes that are here are not
 * fetched again.
 */
export function pictureFiles({ id, state, files }: Version): (PictureFile & { size: number })[] {
  const own = held.get(id);
  if (own && state !== 'ready')
    return own.map(({ role, name, frame, size, file }) => ({
      role,
      name,
      frame,
      size,
      url: '',
      local: file,
    }));
  return files.map(({ id: file, role, name, frame, size }) => {
    const here = own?.find((f) => f.name === name && f.frame === frame && f.size === size);
    return { role, name, frame, size, url: fileUrl(file), ...(here ? { local: here.file } : {}) };
  });
}
