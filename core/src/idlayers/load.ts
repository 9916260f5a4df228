import type { Finding } from '../findings/finding.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import { decodeCryptomatte, findCryptomattes, sizeOf, type CryptomatteInfo } from './cryptomatte.ts';
import { decodeNumberedLayer, findNumberedLayers, type NumberedLayer } from './numbered.ts';
import { parseManifest, type Manifest } from './manifest.ts';
import type { RankPlanes } from './rank-planes.ts';
import { safeSidecarName } from './sidecar.ts';

/** One ID layer of a picture, decoded if it is sound. */
export interface IdLayer {
  name: string;
  kind: 'cryptomatte' | NumberedLayer['kind'];
  info: CryptomatteInfo;
  manifestFrom: 'embedded' | 'sidecar' | 'missing';
  manifest: Manifest;
  /** Absent if the layer cannot give masks; a finding says why. */
  planes?: RankPlanes;
}

/**
 * Reads every ID layer of a decoded picture.
 * @param sidecars texts of the files beside the picture, by plain file name
 */
export function loadIdLayers(
  image: ExrImage,
  sidecars: ReadonlyMap<string, string> = new Map(),
): { layers: IdLayer[]; findings: Finding[] } {
  const findings: Finding[] = [];
  const layers = findCryptomattes(image.header).map((info): IdLayer => {
    for (const fault of info.faults) findings.push({ severity: 'error', ...fault });
    const { manifest, from } = manifestOf(info, sidecars, findings);
    const layer: IdLayer = { name: info.name, kind: 'cryptomatte', info, manifestFrom: from, manifest };
    if (info.faults.length === 0)
      layer.planes = decodeCryptomatte(info, image.channels, sizeOf(image.header));
    return layer;
  });
  for (const numbered of findNumberedLayers(image.header.attributes)) {
    const { info, manifest, planes } = decodeNumberedLayer(numbered, image.channels, sizeOf(image.header));
    for (const fault of info.faults) findings.push({ severity: 'error', ...fault });
    layers.push({
      name: numbered.layer,
      kind: numbered.kind,
      info,
      manifestFrom: 'embedded',
      manifest,
      ...(planes ? { planes } : {}),
    });
  }
  return { layers, findings };
}

function manifestOf(
  info: CryptomatteInfo,
  sidecars: ReadonlyMap<string, string>,
  findings: Finding[],
): { manifest: Manifest; from: IdLayer['manifestFrom'] } {
  const none = { manifest: { nameOf: new Map(), clashes: [], repaired: 0 }, from: 'missing' as const };
  let text = info.manifest;
  let from: IdLayer['manifestFrom'] = 'embedded';
  if (text === undefined && info.sidecar !== undefined) {
    const file = safeSidecarName(info.sidecar);
    if (file === undefined) {
      findings.push({
        severity: 'warning',
        code: 'sidecar-outside',
        message: `The names of ${info.name} are said to be in "${info.sidecar}", which is not beside the picture. It was not read.`,
      });
      return none;
    }
    text = sidecars.get(file);
    from = 'sidecar';
    if (text === undefined) {
      findings.push({
        severity: 'warning',
        code: 'sidecar-missing',
        message: `The names of ${info.name} are in the file "${file}", which is missing. Add it beside the picture; until then IDs are shown as numbers.`,
      });
      return none;
    }
  }
  if (text === undefined) {
    findings.push({
      severity: 'info',
      code: 'manifest-missing',
      message: `${info.name} has no list of names. Its IDs are shown as numbers; masks work all the same.`,
    });
    return none;
  }
  try {
    const manifest = parseManifest(text);
    if (manifest.clashes.length)
      findings.push({
        severity: 'warning',
        code: 'name-clash',
        message: `In ${info.name}, ${manifest.clashes.length} name(s) share the ID of another name and cannot be told from it: ${manifest.clashes.slice(0, 3).join(', ')}.`,
      });
    if (manifest.repaired)
      findings.push({
        severity: 'warning',
        code: 'name-repaired',
        message: `${manifest.repaired} name(s) of ${info.name} hold characters that cannot be stored; they were replaced by "\uFFFD". Masks are not touched by it.`,
      });
    return { manifest, from };
  } catch (error) {
    findings.push({
      severity: 'warning',
      code: 'manifest-damaged',
      message: `The list of names of ${info.name} cannot be read: ${(error as Error).message}. IDs are shown as numbers.`,
    });
    return none;
  }
}
