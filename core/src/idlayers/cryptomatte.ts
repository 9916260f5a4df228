import type { ExrAttribute, ExrChannel, ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { boxHeight, boxIn, boxWidth } from '../planes/box.ts';
import { sameSize, type Size } from '../planes/size.ts';
import { halvesToFloats } from '../planes/half.ts';
import { makeString, stringAttribute } from '../formats/exr/attributes.ts';
import { hashName, idToHex } from './ids.ts';
import { formatManifest } from './manifest.ts';
import type { RankPlanes } from './rank-planes.ts';

/** A cryptomatte as the header describes it, before its pixels are read. */
export interface CryptomatteInfo {
  /** The layer's name as the picture gives it, for example `CryptoObject`. */
  name: string;
  /** Channel names of ID and coverage by rank. */
  ranks: { id: string; coverage: string }[];
  /** Manifest text that is in the header. */
  manifest?: string;
  /** Name of the manifest file beside the picture, exactly as written in the header. */
  sidecar?: string;
  /** What is wrong with it, in plain words; a layer with any of these cannot give masks. */
  faults: { code: 'ids-half' | 'ids-integer' | 'ranks-missing' | 'conversion-unknown'; message: string }[];
}

const SUFFIX: Record<string, 'R' | 'G' | 'B' | 'A'> = {
  r: 'R',
  red: 'R',
  g: 'G',
  green: 'G',
  b: 'B',
  blue: 'B',
  a: 'A',
  alpha: 'A',
};

/** Groups channels called `<layer><two digits>.<R|G|B|A>`, in any accepted spelling, by layer and number. */
function numberedLayers(
  channels: readonly ChannelInfo[],
): Map<string, Map<number, Record<string, ChannelInfo>>> {
  const layers = new Map<string, Map<number, Record<string, ChannelInfo>>>();
  for (const channel of channels) {
    const match = /^(.*?)(\d\d)\.([a-z]+)$/i.exec(channel.name);
    const component = match && SUFFIX[match[3]!.toLowerCase()];
    if (!match || !component) continue;
    const numbers = layers.get(match[1]!) ?? new Map<number, Record<string, ChannelInfo>>();
    layers.set(match[1]!, numbers);
    const parts = numbers.get(Number(match[2])) ?? {};
    numbers.set(Number(match[2]), parts);
    parts[component] = channel;
  }
  return layers;
}

/**
 * Finds the cryptomattes of a header by their attributes, trusting the attributes' values and not their keys.
 * A layer that the header names but whose channels are absent is returned with a fault.
 */
export function findCryptomattes(header: Pick<ExrHeader, 'attributes' | 'channels'>): CryptomatteInfo[] {
  const numbered = numberedLayers(header.channels);
  const found: CryptomatteInfo[] = [];
  for (const attribute of header.attributes) {
    const key = /^cryptomatte\/([^/]+)\/name$/.exec(attribute.name)?.[1];
    if (!key || attribute.type !== 'string') continue;
    const meta = (what: string) => stringAttribute(header.attributes, `cryptomatte/${key}/${what}`);
    const name = meta('name')!;
    // A dotted prefix (a view or a group of layers) may stand before the name in the channels.
    const numbers =
      numbered.get(name) ??
      [...numbered].find(([layer]) => layer.endsWith(`.${name}`))?.[1] ??
      new Map<number, Record<string, ChannelInfo>>();
    const info: CryptomatteInfo = { name, ranks: [], faults: [] };
    const manifest = meta('manifest');
    const sidecar = meta('manif_file');
    if (manifest !== undefined) info.manifest = manifest;
    else if (sidecar !== undefined) info.sidecar = sidecar;
    const conversion = meta('conversion');
    if (conversion !== undefined && conversion !== 'uint32_to_float32')
      info.faults.push({
        code: 'conversion-unknown',
        message: `${name} stores its IDs by "${conversion}", which is not known.`,
      });
    const types = new Set<string>();
    for (let n = 0; numbers.has(n); n++) {
      const { R, G, B, A } = numbers.get(n)!;
      for (const [id, coverage] of [
        [R, G],
        [B, A],
      ]) {
        if (!id || !coverage) continue;
        info.ranks.push({ id: id.name, coverage: coverage.name });
        types.add(id.type);
      }
    }
    if (info.ranks.length === 0)
      info.faults.push({
        code: 'ranks-missing',
        message: `The header names ${name}, but the file has no channels ${name}00.R, ${name}00.G, … for it.`,
      });
    if (types.has('half'))
      info.faults.push({
        code: 'ids-half',
        message: `${name} was saved as 16-bit half, which cannot hold IDs: they are lost. Save or render this pass again as 32-bit float.`,
      });
    if (types.has('uint'))
      info.faults.push({
        code: 'ids-integer',
        message: `${name} holds its IDs as integers; a cryptomatte needs 32-bit float channels. Their bits are the same.`,
      });
    if (!found.some((f) => f.name === name)) found.push(info);
  }
  return found;
}

/** Names of all channels that belong to a cryptomatte, its preview channels included. */
export function isCryptomatteChannel(info: CryptomatteInfo, channel: string): boolean {
  return (
    info.ranks.some((r) => r.id === channel || r.coverage === channel) ||
    new RegExp(`(^|\\.)${info.name.replace(/[^\w]/g, '\\$&')}(\\d\\d)?\\.\\w+$`).test(channel)
  );
}

/** Takes the ranks out of decoded channels without copying IDs. Throws if the layer has a fault. */
export function decodeCryptomatte(
  info: CryptomatteInfo,
  channels: readonly ExrChannel[],
  size: { width: number; height: number },
): RankPlanes {
  if (info.faults.length) throw new Error(info.faults[0]!.message);
  const byName = new Map(channels.map((c) => [c.name, c]));
  const data = (name: string) => {
    const channel = byName.get(name);
    if (!channel) throw new Error(`Channel ${name} was not read.`);
    return channel.data;
  };
  return {
    ...size,
    ids: info.ranks.map(({ id }) => {
      const d = data(id);
      return new Uint32Array(d.buffer, d.byteOffset, d.length);
    }),
    coverage: info.ranks.map(({ coverage }) => {
      const d = data(coverage);
      return d instanceof Uint16Array ? halvesToFloats(d) : (d as Float32Array);
    }),
  };
}

/**
 * Channels and attributes of a cryptomatte layer. An odd number of ranks gets an empty last one, because a
 * layer of the file holds two. IDs and coverage are 32-bit float, as the specification demands.
 */
export function encodeCryptomatte(
  name: string,
  planes: RankPlanes,
  names: Iterable<readonly [name: string, id: number]>,
): { channels: ExrChannel[]; attributes: ExrAttribute[] } {
  const channels: ExrChannel[] = [];
  const add = (channel: string, data: Float32Array) =>
    channels.push({ name: channel, type: 'float', xSampling: 1, ySampling: 1, pLinear: false, data });
  for (let rank = 0; rank < planes.ids.length + (planes.ids.length % 2); rank++) {
    const layer = `${name}${String(rank >> 1).padStart(2, '0')}`;
    const [id, coverage] = rank % 2 ? ['B', 'A'] : ['R', 'G'];
    const ids = planes.ids[rank] ?? new Uint32Array(planes.width * planes.height);
    add(`${layer}.${id}`, new Float32Array(ids.buffer, ids.byteOffset, ids.length));
    add(`${layer}.${coverage}`, planes.coverage[rank] ?? new Float32Array(planes.width * planes.height));
  }
  return { channels, attributes: cryptomatteAttributes(name, names) };
}

/** What a header says of a cryptomatte. */
export function cryptomatteAttributes(
  name: string,
  names: Iterable<readonly [name: string, id: number]>,
): ExrAttribute[] {
  const key = `cryptomatte/${idToHex(hashName(name)).slice(0, 7)}`;
  return [
    makeString(`${key}/name`, name),
    makeString(`${key}/hash`, 'MurmurHash3_32'),
    makeString(`${key}/conversion`, 'uint32_to_float32'),
    makeString(`${key}/manifest`, formatManifest(names)),
  ];
}

/** Attributes without those that describe one cryptomatte. */
export function withoutCryptomatte(attributes: readonly ExrAttribute[], layer: string): ExrAttribute[] {
  const named = attributes.find(
    (a) => /^cryptomatte\/[^/]+\/name$/.test(a.name) && stringAttribute([a], a.name) === layer,
  );
  if (!named) return [...attributes];
  const key = named.name.replace(/name$/, '');
  return attributes.filter((a) => !a.name.startsWith(key));
}

/** Size of the pictures of a header, in pixels of its data window, with the display window where that is another. */
export function sizeOf({ dataWindow, displayWindow }: Pick<ExrHeader, 'dataWindow' | 'displayWindow'>): Size {
  const whole = { width: boxWidth(dataWindow), height: boxHeight(dataWindow) };
  const placed = { ...whole, display: boxIn(displayWindow, dataWindow) };
  return sameSize(whole, placed) ? whole : placed;
}
