import type { ExrImage } from '../formats/exr/types.ts';
import type { CastMember } from '../cast/cast.ts';
import { idToHex } from '../idlayers/ids.ts';
import type { Finding } from '../findings/finding.ts';
import type { IdLayer } from '../idlayers/load.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { statsOfPlane } from '../version/channel-stats.ts';
import { openPicture, type OpenPicture } from '../version/open-picture.ts';
import type { Inspected } from './check.ts';
import { CHECKS } from './registry.ts';

/** What a file is and holds, as `zesty-crow inspect --json` prints it. */
export interface Inspection {
  width: number;
  height: number;
  dataWindow: ExrImage['header']['dataWindow'];
  displayWindow: ExrImage['header']['displayWindow'];
  compression: string;
  channels: { name: string; type: string }[];
  idLayers: {
    name: string;
    kind: IdLayer['kind'];
    ranks: number;
    manifest: IdLayer['manifestFrom'];
    /** `coverage` is the sum over all pixels, `id` 8 hex digits. */
    members: (Omit<CastMember, 'id'> & { id: string })[];
  }[];
  findings: Finding[];
}

/** Inspects an opened picture. */
export function inspectOpen(open: Inspected): Inspection {
  const { header } = open.image;
  return {
    width: open.width,
    height: open.height,
    dataWindow: header.dataWindow,
    displayWindow: header.displayWindow,
    compression: header.compression,
    channels: header.channels.map(({ name, type }) => ({ name, type })),
    idLayers: open.layers.map((layer) => ({
      name: layer.name,
      kind: layer.kind,
      ranks: layer.info.ranks.length,
      manifest: layer.manifestFrom,
      members: (open.cast.find((c) => c.name === layer.name)?.members ?? []).map((m) => ({
        ...m,
        id: idToHex(m.id),
      })),
    })),
    findings: [...open.findings, ...CHECKS.flatMap((check) => check.run(open))],
  };
}

/** Inspects an opened picture whose channels are in memory, sample by sample. */
export const inspectWhole = (open: OpenPicture): Inspection =>
  inspectOpen({
    ...open,
    stats: new Map(open.image.channels.map((c) => [c.name, statsOfPlane(asFloats(c), open.width)])),
  });

/** Inspects a decoded file. `sidecars`: texts of the files beside it, by name. */
export const inspect = (image: ExrImage, sidecars?: ReadonlyMap<string, string>): Inspection =>
  inspectWhole(openPicture(image, sidecars));
