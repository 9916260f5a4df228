import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join, sep } from 'node:path';
import {
  groupFiles,
  openFrame,
  readerFor,
  sidecarsWanted,
  type FileGroup,
  type OpenPicture,
} from '@zesty-crow/core';
import { CommandError } from './fail.ts';

/** Bytes of a file, with a plain message if there is none. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

export function writeBytes(path: string, bytes: Uint8Array | string): void {
  try {
    writeFileSync(path, bytes);
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

function plain(error: NodeJS.ErrnoException): string {
  if (error.code === 'ENOENT') return 'there is no such file or folder.';
  if (error.code === 'EACCES') return 'access is not allowed.';
  if (error.code === 'EISDIR') return 'this is a folder, not a file.';
  if (error.code === 'ENOSPC') return 'the disk is full.';
  return error.message;
}

/** Opens a picture with the manifests that lie beside it. */
export async function openFile(path: string): Promise<OpenPicture> {
  const folder = dirname(path);
  const own = `${basename(path, extname(path))}.json`;
  const bytes = readBytes(path);
  const wanted = new Set([own, ...(await readerFor(bytes).outline(bytes)).parts.flatMap(sidecarsWanted)]);
  const files = [
    { role: 'picture', name: basename(path), frame: null },
    ...readdirSync(folder)
      .filter((name) => wanted.has(name))
      .map((name) => ({ role: 'sidecar', name, frame: null })),
  ];
  const read = (file: (typeof files)[number]) =>
    Promise.resolve(file.role === 'picture' ? bytes : readBytes(join(folder, file.name)));
  return (await openFrame(files, undefined, read)).all();
}

/** A version as the command line has found it, with its first frame opened. */
export interface OpenGroup {
  group: FileGroup<{ path: string }>;
  open: OpenPicture;
}

/** Files under a path: itself, or all in a folder, folders and all. */
function filesUnder(path: string): string[] {
  try {
    if (!statSync(path).isDirectory()) return [path];
    return readdirSync(path)
      .sort()
      .flatMap((name) => filesUnder(join(path, name)));
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

/**
 * Groups files and folders into versions and opens the first frame of each; undefined for a single file, which is what
 * it is.
 */
export async function openGroups(
  paths: readonly string[],
): Promise<{ versions: OpenGroup[]; refused: { file: { path: string }; why: string }[] } | undefined> {
  const files = paths.flatMap(filesUnder);
  if (files.length === 1 && files[0] === paths[0]) return undefined;
  const { groups, refused } = groupFiles(files.map((path) => ({ path: path.split(sep).join('/') })));
  const versions: OpenGroup[] = [];
  for (const group of groups) {
    const own = group.files.map(({ file, role, frame }) => ({
      role,
      frame,
      name: basename(file.path),
      path: file.path,
    }));
    const frame = await openFrame(own, undefined, (file) => Promise.resolve(readBytes(file.path)));
    versions.push({ group, open: await frame.all() });
  }
  return { versions, refused };
}

/** The kind of a target by its ending; anything but the given endings is refused before any work is done. */
export function targetKind<K extends string>(path: string, kinds: readonly K[]): K {
  const kind = extname(path).slice(1).toLowerCase() as K;
  if (!kinds.includes(kind))
    throw new CommandError(
      `${basename(path)}: write to a file ending in ${kinds.map((k) => `.${k}`).join(' or ')}.`,
    );
  return kind;
}
