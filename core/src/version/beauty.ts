import { srgbToLinear } from '../colour/srgb.ts';
import { toRec709 } from '../colour/primaries.ts';
import { chromaticities } from '../formats/exr/attributes.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import { findCryptomattes, isCryptomatteChannel, sizeOf } from '../idlayers/cryptomatte.ts';
import { findNumberedLayers } from '../idlayers/numbered.ts';
import { plainMemory, type Allocate } from '../planes/tile-store.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

/** Which channels of a file are the picture. */
export interface BeautyChannels {
  /** Layer prefix with its dot, or empty. */
  layer: string;
  r: string;
  g: string;
  b: string;
  a?: string;
}

/**
 * Finds the picture among the channels: unnamed R, G, B first, then the first layer with all three that is not
 * part of an ID layer, then a single luminance channel. Undefined for a file of ID passes only.
 */
export function findBeauty(
  header: Pick<ExrImage['header'], 'channels' | 'attributes'>,
): BeautyChannels | undefined {
  const cryptos = findCryptomattes(header);
  const data = new Set(findNumberedLayers(header.attributes).flatMap((l) => l.members.map((m) => m.channel)));
  for (const a of header.attributes)
    if (a.name.startsWith('zestyCrow/colours/'))
      for (const c of 'RGB') data.add(`${a.name.slice('zestyCrow/colours/'.length)}.${c}`);
  const names = header.channels
    .filter((c) => c.xSampling === 1 && c.ySampling === 1)
    .map((c) => c.name)
    .filter((name) => !data.has(name) && !cryptos.some((info) => isCryptomatteChannel(info, name)));
  const has = new Set(names);
  const layers = ['', ...names.filter((n) => n.endsWith('.R')).map((n) => n.slice(0, -1))];
  for (const layer of layers)
    if (has.has(`${layer}R`) && has.has(`${layer}G`) && has.has(`${layer}B`)) {
      const beauty: BeautyChannels = { layer, r: `${layer}R`, g: `${layer}G`, b: `${layer}B` };
      if (has.has(`${layer}A`)) beauty.a = `${layer}A`;
      return beauty;
    }
  return has.has('Y') ? { layer: '', r: 'Y', g: 'Y', b: 'Y' } : undefined;
}

/** Scene-linear colour planes of the picture, or of nothing (mid grey) for a file without one. */
export function beautyPlanes(
  image: Pick<ExrImage, 'channels'> & { header: Pick<ExrImage['header'], 'dataWindow' | 'attributes'> },
  beauty: BeautyChannels | undefined,
  allocate: Allocate = plainMemory,
): RgbPlanes {
  const size = sizeOf(image.header);
  const plane = (name: string) => {
    const channel = image.channels.find((c) => c.name === name)!;
    const floats = asFloats(channel, allocate);
    // Made for a screen: corrections work on light.
    if (channel.encoding !== 'display') return floats;
    const light = new Float32Array(allocate(4 * floats.length));
    for (let i = 0; i < floats.length; i++) light[i] = srgbToLinear(floats[i]!);
    return light;
  };
  const r = beauty ? plane(beauty.r) : new Float32Array(allocate(4 * size.width * size.height)).fill(0.18);
  // Grey is one plane three times: nothing is written in a source.
  if (!beauty || beauty.g === beauty.r) return { ...size, r, g: r, b: r };
  const stated = chromaticities(image.header.attributes);
  const toScreen = stated && toRec709(stated);
  return { ...size, r, g: plane(beauty.g), b: plane(beauty.b), ...(toScreen ? { toScreen } : {}) };
}
