import { halvesToFloats } from '../planes/half.ts';
import { makeString } from '../formats/exr/attributes.ts';
import type { ChannelInfo, ExrAttribute, ExrChannel } from '../formats/exr/types.ts';
import type { CryptomatteInfo } from './cryptomatte.ts';
import { idOfName } from './ids.ts';
import type { Manifest } from './manifest.ts';
import type { RankPlanes } from './rank-planes.ts';

/**
 * Which channels of a file are coverages of what, as JSON text in one attribute a pass, so that numbered buffers and
 * puzzle slots can be picked by name later. The channels are plain pictures for any other program.
 */
export interface NumberedLayer {
  /** Name under which the members are picked. */
  layer: string;
  kind: 'object-buffer' | 'puzzle-matte' | 'number-pass' | 'channel-mask';
  /** In a number pass all members share a channel, and each is one value of it. */
  members: { channel: string; member: string; value?: number }[];
}

const PREFIX = 'zestyCrow/coverage/';

export const makeNumberedLayer = (layer: NumberedLayer): ExrAttribute =>
  makeString(`${PREFIX}${layer.members[0]?.channel ?? layer.layer}`, JSON.stringify(layer));

/**
 * Finds what {@link makeNumberedLayer} wrote; passes of the same layer are put together. Anything else is passed
 * over.
 */
export function findNumberedLayers(attributes: readonly ExrAttribute[]): NumberedLayer[] {
  const found = new Map<string, NumberedLayer>();
  for (const a of attributes) {
    if (!a.name.startsWith(PREFIX) || a.type !== 'string') continue;
    try {
      const read = JSON.parse(new TextDecoder().decode(a.value)) as NumberedLayer;
      const members = read.members.filter(
        (m) => typeof m.channel === 'string' && typeof m.member === 'string',
      );
      const known = found.get(read.layer);
      if (known) known.members.push(...members);
      else if (typeof read.layer === 'string') found.set(read.layer, { ...read, members });
    } catch {
      // Somebody else's attribute.
    }
  }
  return [...found.values()];
}

/** True for the attribute that lists members of one of some channels. */
export const isListOf = ({ name }: ExrAttribute, channels: readonly string[]): boolean =>
  name.startsWith(PREFIX) && channels.includes(name.slice(PREFIX.length));

const MOST_RANKS = 64;

/** Names of a layer's members, and what is wrong with it, as far as the list of channels tells. */
export function describeNumberedLayer(
  layer: NumberedLayer,
  channels: readonly ChannelInfo[],
): { info: CryptomatteInfo; manifest: Manifest } {
  const whole = new Set(channels.filter((c) => c.xSampling === 1 && c.ySampling === 1).map((c) => c.name));
  const manifest: Manifest = { nameOf: new Map(), clashes: [], repaired: 0 };
  const info: CryptomatteInfo = { name: layer.layer, ranks: [], faults: [] };
  for (const { channel, member } of layer.members) {
    if (!whole.has(channel)) {
      info.faults.push({
        code: 'ranks-missing',
        message: `${layer.layer}: the channel ${channel} of "${member}" is missing. Render this pass again.`,
      });
      continue;
    }
    const id = idOfName(member);
    if (!manifest.nameOf.has(id)) manifest.nameOf.set(id, member);
  }
  return { info, manifest };
}

/**
 * Turns coverages of members into ranks, as many as members overlap in any pixel, so that they can be picked and
 * masked like a cryptomatte. Members are told apart by the IDs of their names.
 */
export function decodeNumberedLayer(
  layer: Pick<NumberedLayer, 'members'>,
  channels: readonly ExrChannel[],
  size: { width: number; height: number },
): RankPlanes {
  const byName = new Map(channels.map((c) => [c.name, c]));
  const planes: RankPlanes = { ...size, ids: [], coverage: [] };
  const pixels = size.width * size.height;
  const done = new Set<number>();
  for (const { channel, member, value } of layer.members) {
    const id = idOfName(member);
    if (done.has(id)) continue;
    done.add(id);
    const found = byName.get(channel);
    if (!found) throw new Error(`Channel ${channel} was not read.`);
    const data = found.data instanceof Uint16Array ? halvesToFloats(found.data) : found.data;
    for (let p = 0; p < pixels; p++) {
      const c = value === undefined ? data[p]! : data[p] === value ? 1 : 0;
      if (!(c > 0)) continue;
      let rank = 0;
      while (rank < planes.ids.length && planes.ids[rank]![p] !== 0) rank++;
      if (rank === planes.ids.length) {
        if (rank === MOST_RANKS) continue;
        planes.ids.push(new Uint32Array(pixels));
        planes.coverage.push(new Float32Array(pixels));
      }
      // Kept in falling order as they come.
      while (rank > 0 && planes.coverage[rank - 1]![p]! < c) {
        planes.ids[rank]![p] = planes.ids[rank - 1]![p]!;
        planes.coverage[rank]![p] = planes.coverage[rank - 1]![p]!;
        rank--;
      }
      planes.ids[rank]![p] = id;
      planes.coverage[rank]![p] = c;
    }
  }
  return planes;
}
