import type { Finding } from '../findings/finding.ts';
import { makeString, stringAttribute } from '../formats/exr/attributes.ts';
import type { ExrAttribute, ExrChannel, ExrImage } from '../formats/exr/types.ts';
import { decodeCryptomatte, findCryptomattes, sizeOf, type CryptomatteInfo } from './cryptomatte.ts';
import {
  decodeNumberedLayer,
  describeNumberedLayer,
  findNumberedLayers,
  type NumberedLayer,
} from './numbered.ts';
import { parseManifest, type Manifest } from './manifest.ts';
import type { RankPlanes } from './rank-planes.ts';
import { addedLater, safeSidecarName } from './sidecar.ts';

/** What an ID layer was made of. */
export type IdLayerKind = 'cryptomatte' | 'flat-colour' | NumberedLayer['kind'];

const KIND = 'zestyCrow/idKind/';
/** Says in a header what a cryptomatte was computed from. */
export const makeIdKind = (layer: string, kind: IdLayerKind): ExrAttribute => makeString(KIND + layer, kind);

/** One ID layer of a picture as its header describes it. */
export interface DescribedLayer {
  name: string;
  kind: IdLayerKind;
  info: CryptomatteInfo;
  manifestFrom: 'embedded' | 'sidecar' | 'missing';
  manifest: Manifest;
  /** False if the layer cannot give masks; a finding says why. */
  sound: boolean;
  /** Channels from which it is decoded. */
  channels: readonly string[];
  /** ID and coverage channels, rank by rank, where that is how the file holds it. */
  ranks?: readonly { id: string; coverage: string }[];
  /** All channels of the passes that it was made of, also those that are not needed. */
  sources?: readonly string[];
  /** Which channel is the mask of which member, where that is how the file holds it. */
  members?: NumberedLayer['members'];
  decode(channels: readonly ExrChannel[], size: { width: number; height: number }): RankPlanes;
}

/** One ID layer of a picture, decoded if it is sound. */
export interface IdLayer extends DescribedLayer {
  /** Absent if the layer cannot give masks. */
  planes?: RankPlanes;
}

/**
 * Finds every ID layer that a header describes.
 * @param sidecars texts of the files beside the picture, by plain file name
 */
export function describeIdLayers(
  header: ExrImage['header'],
  sidecars: ReadonlyMap<string, string> = new Map(),
): { layers: DescribedLayer[]; findings: Finding[] } {
  const findings: Finding[] = [];
  const told = (info: CryptomatteInfo) => {
    for (const fault of info.faults)
      findings.push({
        severity: 'error',
        ...fault,
        ...(fault.code === 'ids-integer'
          ? {
              remedy: { label: 'Store them as float', mend: { what: 'ids-from-integers', layer: info.name } },
            }
          : {}),
      });
    return info.faults.length === 0;
  };
  const cryptomattes = findCryptomattes(header).map((info): DescribedLayer => {
    const sound = told(info);
    const { manifest, from } = manifestOf(info, sidecars, findings);
    return {
      name: info.name,
      kind:
        (stringAttribute(header.attributes, KIND + info.name) as IdLayerKind | undefined) ?? 'cryptomatte',
      info,
      manifestFrom: from,
      manifest,
      sound,
      channels: info.ranks.flatMap((r) => [r.id, r.coverage]),
      ranks: info.ranks,
      decode: (channels, size) => decodeCryptomatte(info, channels, size),
    };
  });
  // Numbers whose edges were rebuilt are there already.
  const known = new Set(cryptomattes.map((l) => l.name));
  const left = findNumberedLayers(header.attributes).filter(({ layer }) => !known.has(layer));
  const numbered = left.map((layer): DescribedLayer => {
    const { info, manifest } = describeNumberedLayer(layer, header.channels);
    return {
      name: layer.layer,
      kind: layer.kind,
      members: layer.members,
      info,
      manifestFrom: 'embedded',
      manifest,
      sound: told(info),
      channels: [...new Set(layer.members.map((m) => m.channel))],
      decode(channels, size) {
        const planes = decodeNumberedLayer(layer, channels, size);
        info.ranks = planes.ids.map(() => ({ id: '', coverage: '' }));
        return planes;
      },
    };
  });
  return { layers: [...cryptomattes, ...numbered], findings };
}

/** Reads every ID layer of a decoded picture. */
export function loadIdLayers(
  image: ExrImage,
  sidecars?: ReadonlyMap<string, string>,
): { layers: IdLayer[]; findings: Finding[] } {
  const { layers, findings } = describeIdLayers(image.header, sidecars);
  return {
    layers: layers.map((layer) =>
      layer.sound ? { ...layer, planes: layer.decode(image.channels, sizeOf(image.header)) } : layer,
    ),
    findings,
  };
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
    text = sidecars.get(addedLater(info.name));
    from = 'sidecar';
  }
  if (text === undefined) {
    findings.push({
      severity: 'info',
      code: 'manifest-missing',
      message: `${info.name} has no list of names. Its IDs are shown as numbers; masks work all the same. If there is one, add the .json to the files.`,
    });
    return none;
  }
  try {
    const manifest = parseManifest(text);
    if (manifest.clashes.length)
      findings.push({
        severity: 'warning',
        code: 'ids-clash',
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
