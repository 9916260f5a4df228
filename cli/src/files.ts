import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import {
  findCryptomattes,
  openPicture,
  readExr,
  safeSidecarName,
  type ExrImage,
  type OpenPicture,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { Failure } from './fail.ts';

/** Bytes of a file, with a plain message if there is none. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new Failure(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

export function writeBytes(path: string, bytes: Uint8Array | string): void {
  try {
    writeFileSync(path, bytes);
  } catch (error) {
    throw new Failure(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
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
  return readExr(readBytes(path), { zlib: nodeZlib });
}

/** Decodes an EXR file and the manifests that lie beside it. */
export function openFile(path: string): OpenPicture {
  const image = readImage(path);
  const sidecars = new Map<string, string>();
  const beside = new Set(readdirSync(dirname(path)));
  for (const info of findCryptomattes(image.header)) {
    const name = info.sidecar === undefined ? undefined : safeSidecarName(info.sidecar);
    if (name && beside.has(name)) sidecars.set(name, readFileSync(join(dirname(path), name), 'utf8'));
  }
  return openPicture(image, sidecars);
}

/** The kind of a target by its ending; anything but the given endings is refused before any work is done. */
export function targetKind<K extends string>(path: string, kinds: readonly K[]): K {
  const kind = extname(path).slice(1).toLowerCase() as K;
  if (!kinds.includes(kind))
    throw new Failure(
      `${basename(path)}: write to a file ending in ${kinds.map((k) => `.${k}`).join(' or ')}.`,
    );
  return kind;
}
