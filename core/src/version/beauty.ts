import { srgbToLinear } from '../colour/srgb.ts';
import { D65, toRec709 } from '../colour/primaries.ts';
import { chromaticities } from '../formats/exr/attributes.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import { findCryptomattes, isCryptomatteChannel, sizeOf } from '../idlayers/cryptomatte.ts';
import { findNumberedLayers } from '../idlayers/numbered.ts';
import { plainMemory, type Allocate } from '../planes/tile-store.ts';
import { layerKindOf, layerOfChannel } from './layer-kinds.ts';
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

/** Names by which people call the picture itself. */
const PICTURE = /^(beauty|rgba?|combined|picture|final|main|color|colour)$/i;
/** True for a name one of whose words says that it is the picture. */
export const callsItselfPicture = (name: string): boolean =>
  name.split(/[\s._-]+/).some((w) => PICTURE.test(w));

/**
 * Layers of three colours that are no IDs, in the order of the file; R, G, B without a layer are `RGBA`.
 * @param taken layers that are something else
 */
export function colourLayers(
  header: Pick<ExrImage['header'], 'channels' | 'attributes'>,
  taken: ReadonlySet<string> = new Set(),
): string[] {
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
  return names.flatMap((name) => {
    const layer = /(^|\.)R$/.test(name) ? layerOfChannel(name) : undefined;
    return layer !== undefined &&
      !taken.has(layer) &&
      ['R', 'G', 'B'].every((c) => has.has(prefixOf(layer) + c))
      ? [layer]
      : [];
  });
}
const prefixOf = (layer: string) => (layer === 'RGBA' ? '' : `${layer}.`);

/** Which layers are the picture, several being added up, and why. */
export interface PictureChoice {
  layers: string[];
  why: string;
  /** What could as well be it, if the names do not decide: parts of the light that should add up to the picture. */
  doubt?: { candidates: string[]; lights: string[] };
}

/**
 * Decides which layer is the picture: the unnamed one; the only one; the one that is called so; parts of the light, if
 * there is nothing else, added up; the only one with alpha; the first. No layers: there are none with colours.
 * @param chosen by the artist; used as far as it is there
 * @param taken layers that are something else
 */
export function choosePicture(
  header: Pick<ExrImage['header'], 'channels' | 'attributes'>,
  chosen: readonly string[] = [],
  taken?: ReadonlySet<string>,
): PictureChoice {
  const layers = colourLayers(header, taken);
  const own = chosen.filter((c) => layers.includes(c));
  if (own.length) return { layers: own, why: 'chosen by hand' };
  if (layers.includes('RGBA')) return { layers: ['RGBA'], why: 'its colours belong to no other layer' };
  const [first] = layers;
  if (first === undefined) return { layers: [], why: 'nothing has colours' };
  if (layers.length === 1) return { layers, why: 'it is the only one with colours' };
  // "diffuse colour" is no picture.
  const named = layers.find((l) => callsItselfPicture(l) && layerKindOf(l, 3).kind === 'colour');
  if (named !== undefined) return { layers: [named], why: `it is called ${named}` };
  const kinds = layers.map((layer) => ({ layer, kind: layerKindOf(layer, 3) }));
  const lights = kinds.filter(({ kind }) => kind.adds).map(({ layer }) => layer);
  const unknown = kinds.filter(({ kind }) => kind.kind === 'colour');
  if (lights.length > 1 && unknown.length === 0)
    return { layers: lights, why: `there are only parts of the light: ${lights.join(', ')} are added up` };
  const alpha = layers.filter((l) => header.channels.some((c) => c.name === `${prefixOf(l)}A`));
  const candidates = unknown.map((u) => u.layer);
  const doubt = candidates.length > 1 && lights.length > 1 ? { doubt: { candidates, lights } } : {};
  if (alpha.length === 1) return { layers: alpha, why: 'it is the only one with alpha', ...doubt };
  return { layers: [candidates[0] ?? first], why: 'it is the first one with colours', ...doubt };
}

/**
 * The channels of a picture of one layer; without any, a single luminance channel. Undefined for a file of ID passes
 * only.
 */
export function findBeauty(
  header: Pick<ExrImage['header'], 'channels' | 'attributes'>,
  [layer]: readonly string[] = choosePicture(header).layers,
  taken?: ReadonlySet<string>,
): BeautyChannels | undefined {
  const has = new Set(
    header.channels.filter((c) => c.xSampling === 1 && c.ySampling === 1).map((c) => c.name),
  );
  if (layer === undefined)
    return has.has('Y') && !taken?.has('Y') ? { layer: '', r: 'Y', g: 'Y', b: 'Y' } : undefined;
  const prefix = prefixOf(layer);
  const beauty: BeautyChannels = { layer: prefix, r: `${prefix}R`, g: `${prefix}G`, b: `${prefix}B` };
  if (has.has(`${prefix}A`)) beauty.a = `${prefix}A`;
  return beauty;
}

/** Scene-linear colour planes of the picture, or of nothing (mid grey) for a file without one. */
export function beautyPlanes(
  image: Pick<ExrImage, 'channels'> & {
    header: Pick<ExrImage['header'], 'dataWindow' | 'displayWindow' | 'attributes'>;
  },
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
  const other = toScreen && stated && Math.hypot(stated.white[0] - D65[0], stated.white[1] - D65[1]) > 1e-4;
  return {
    ...size,
    r,
    g: plane(beauty.g),
    b: plane(beauty.b),
    ...(toScreen ? { toScreen } : {}),
    ...(other ? { white: stated.white } : {}),
  };
}
