import type { ExrImage } from '../formats/exr/types.ts';
import type { CastLayer, CastMember } from '../cast/cast.ts';
import { idToHex } from '../idlayers/ids.ts';
import type { Finding } from '../findings/finding.ts';
import type { IdLayer } from '../idlayers/load.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { statsOfPlane, type ChannelStats } from '../version/channel-stats.ts';
import type { Frame } from '../version/frame.ts';
import { openPicture, type OpenPicture } from '../version/open-picture.ts';
import type { Check, Inspected } from './check.ts';
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

/** Inspects an opened picture, one check after the other. */
export async function inspectOpen(
  open: Inspected,
  signal?: AbortSignal,
  checks: readonly Check[] = CHECKS,
): Promise<Inspection> {
  const found: Finding[] = [];
  for (const check of checks) {
    signal?.throwIfAborted();
    found.push(...(await check.run(open)));
  }
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
    findings: [...open.findings, ...found],
  };
}

/** Inspects a frame whose pixels are read as checks ask for them. */
export const inspectFrame = (
  frame: Frame,
  cast: readonly CastLayer[],
  stats: ReadonlyMap<string, ChannelStats>,
  signal?: AbortSignal,
  checks?: readonly Check[],
): Promise<Inspection> =>
  inspectOpen(
    {
      image: frame,
      width: frame.width,
      height: frame.height,
      ...(frame.beauty ? { beauty: frame.beauty } : {}),
      layers: frame.layers,
      cast: [...cast],
      stats,
      findings: [...frame.findings],
      read: async (names) => {
        const channels = await frame.channels((n) => names.includes(n), { signal });
        return new Map(channels.map((c) => [c.name, asFloats(c)]));
      },
    },
    signal,
    checks,
  );

/** Inspects an opened picture whose channels are in memory, sample by sample. */
export const inspectWhole = (open: OpenPicture, checks?: readonly Check[]): Promise<Inspection> =>
  inspectOpen(
    {
      ...open,
      read: (names) =>
        Promise.resolve(
          new Map(
            open.image.channels.flatMap((c) =>
              names.includes(c.name) ? [[c.name, asFloats(c)] as const] : [],
            ),
          ),
        ),
      stats: new Map(open.image.channels.map((c) => [c.name, statsOfPlane(asFloats(c), open.width)])),
    },
    undefined,
    checks,
  );

/** Inspects a decoded file. `sidecars`: texts of the files beside it, by name. */
export const inspect = (
  image: ExrImage,
  sidecars?: ReadonlyMap<string, string>,
  checks?: readonly Check[],
): Promise<Inspection> => inspectWhole(openPicture(image, sidecars), checks);
