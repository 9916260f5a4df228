import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import {
  openFrame,
  readExr,
  readExrOutline,
  sidecarsWanted,
  type ExrImage,
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

/** Decodes an EXR file. */
export function readImage(path: string): ExrImage {
  return readExr(readBytes(path));
}

/** Opens an EXR file with the manifests that lie beside it. */
export async function openFile(path: string): Promise<OpenPicture> {
  const folder = dirname(path);
  const own = `${basename(path, extname(path))}.json`;
  const bytes = readBytes(path);
  const wanted = new Set([own, ...readExrOutline(bytes).parts.flatMap(sidecarsWanted)]);
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

/** The kind of a target by its ending; anything but the given endings is refused before any work is done. */
export function targetKind<K extends string>(path: string, kinds: readonly K[]): K {
  const kind = extname(path).slice(1).toLowerCase() as K;
  if (!kinds.includes(kind))
    throw new CommandError(
      `${basename(path)}: write to a file ending in ${kinds.map((k) => `.${k}`).join(' or ')}.`,
    );
  return kind;
}
