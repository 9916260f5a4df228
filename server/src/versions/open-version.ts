import type PgPool from 'pg';
import {
  ExrError,
  findCryptomattes,
  inspectOpen,
  openPicture,
  readExr,
  safeSidecarName,
  type Inspection,
  mergeImages,
  type ExrImage,
  type OpenPicture,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { filesOf, readFileBytes, type FileRow } from '../files/store.ts';

/** What the interface needs to know of a version before its pixels arrive. */
export interface VersionSummary {
  layers: { name: string; kind: string; ranks: number; manifest: string; members: number }[];
  findings: Inspection['findings'];
  channels: number;
  compression: string;
  hasPicture: boolean;
}

/** A version's files cannot be used; the message is for the user. */
export class Unusable extends Error {}

/** The EXR files of one frame, the first one by default: a picture, and ID passes in files of their own. */
export function picturesOf(files: readonly FileRow[], frame?: number): FileRow[] {
  const pictures = files.filter((f) => f.role === 'picture');
  const first = Math.min(...pictures.map((f) => f.frame ?? 0));
  // What was imported has no frames; what was added to a frame later comes after it.
  const wanted = pictures.filter((f) => (f.frame ?? 0) === (frame ?? first));
  return wanted.length ? wanted : pictures.filter((f) => f.frame === null);
}

/** Loads and decodes a frame of a version: its EXR files and the manifests beside them. */
export async function openVersion(
  pool: PgPool.Pool,
  versionId: string,
  frame?: number,
): Promise<OpenPicture> {
  const files = await filesOf(pool, { versionId });
  const pictures = picturesOf(files, frame);
  if (pictures.length === 0) throw new Unusable('There is no OpenEXR file among the files of this version.');
  const sidecars = new Map<string, string>();
  for (const file of files.filter((f) => f.role === 'sidecar'))
    sidecars.set(file.name, new TextDecoder().decode(await readFileBytes(pool, file)));
  const images: ExrImage[] = [];
  for (const picture of pictures)
    try {
      images.push(readExr(await readFileBytes(pool, picture), { zlib: nodeZlib }));
    } catch (error) {
      if (error instanceof ExrError) throw new Unusable(`${picture.name}: ${error.message}`);
      throw error;
    }
  try {
    return openImage(mergeImages(images), sidecars);
  } catch (error) {
    if (error instanceof ExrError) throw new Unusable(error.message);
    throw error;
  }
}

function openImage(image: ExrImage, sidecars: ReadonlyMap<string, string>): OpenPicture {
  const known = new Map(
    findCryptomattes(image.header).flatMap(({ sidecar }) => {
      const name = sidecar === undefined ? undefined : safeSidecarName(sidecar);
      // A manifest that was uploaded alone needs no matching name: pictures get renamed, their manifests do not.
      const text =
        name === undefined
          ? undefined
          : (sidecars.get(name) ?? (sidecars.size === 1 ? [...sidecars.values()][0] : undefined));
      return name !== undefined && text !== undefined ? [[name, text] as const] : [];
    }),
  );
  return openPicture(image, known);
}

export function summarise(open: OpenPicture): VersionSummary {
  const inspection = inspectOpen(open);
  return {
    layers: inspection.idLayers.map(({ members, ...l }) => ({ ...l, members: members.length })),
    findings: inspection.findings,
    channels: inspection.channels.length,
    compression: inspection.compression,
    hasPicture: open.beauty !== undefined,
  };
}
