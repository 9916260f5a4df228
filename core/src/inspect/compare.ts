import { castOf, isNothing } from '../cast/cast.ts';
import type { Shown } from '../display/pass-picture.ts';
import { onScreen } from '../display/view.ts';
import { displayByte } from '../colour/srgb.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Frame } from '../version/frame.ts';
import type { ReadShare } from '../version/part-reader.ts';
import { wallOf } from './wall.ts';

/** What became of something from one version to the other. */
export type Fate = 'came' | 'went' | 'changed' | 'same';

/** One version against another: what came, what went, what is not the same any more. */
export interface Comparison {
  passes: { name: string; fate: Fate }[];
  /** By ID layer that both have; members by name, those that stayed the same left out. */
  layers: { name: string; members: { name: string; fate: Fate; pixels: [number, number] }[] }[];
  /** Where the pictures differ on the screen; undefined if their sizes do, or one has none. */
  difference?: PictureDifference;
  /** Sizes, where they are not the same. */
  sizes?: [string, string];
}

export interface PictureDifference {
  /** Grey: the largest difference of a channel within each square of pixels, `gain` times. */
  picture: Shown;
  gain: number;
  /** Pixels that differ by more than two of 255 display steps. */
  pixels: number;
  /** The largest difference, in display steps. */
  most: number;
}

const VISIBLE = 2;
const GAIN = 4;

/** Where two pictures of one size differ as they are shown, no side longer than `side`. */
export function differenceOf(before: RgbPlanes, after: RgbPlanes, side: number): PictureDifference {
  const [a, b] = [onScreen(before), onScreen(after)];
  const { width, height } = a;
  const by = Math.max(1, Math.ceil(Math.max(width, height) / side));
  const [w, h] = [Math.ceil(width / by), Math.ceil(height / by)];
  const largest = new Float32Array(w * h);
  let [pixels, most] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      let own = 0;
      for (const k of ['r', 'g', 'b'] as const)
        own = Math.max(own, Math.abs(displayByte(a[k][p]!) - displayByte(b[k][p]!)));
      if (own > VISIBLE) pixels++;
      most = Math.max(most, own);
      const at = Math.floor(y / by) * w + Math.floor(x / by);
      largest[at] = Math.max(largest[at]!, own);
    }
  const data = new Uint8ClampedArray(4 * w * h);
  largest.forEach((v, i) => {
    data.fill(GAIN * v, 4 * i, 4 * i + 3);
    data[4 * i + 3] = 255;
  });
  return { picture: { width: w, height: h, data }, gain: GAIN, pixels, most };
}

/** True if all samples of the channels are the same bits. */
async function sameChannels(
  a: Frame,
  b: Frame,
  names: readonly string[],
  signal?: AbortSignal,
): Promise<boolean> {
  const wanted = new Set(names);
  const [own, other] = await Promise.all(
    [a, b].map((frame) => frame.channels((name) => wanted.has(name), { signal })),
  );
  return own!.every((c) => {
    const plane = asFloats(c);
    const second = other!.find((o) => o.name === c.name);
    if (!second) return false;
    const against = asFloats(second);
    return plane.length === against.length && plane.every((v, i) => Object.is(v, against[i]));
  });
}

const sizeText = ({ width, height }: Frame) => `${width} x ${height}`;

/**
 * Compares a frame of two versions, pass by pass and member by member. Channels are read one pass at a time, so that two
 * large files need not be in memory as a whole.
 * @param side longest side of the difference's picture
 */
export async function compareFrames(
  before: Frame,
  after: Frame,
  side: number,
  { signal, onProgress }: ReadShare = {},
): Promise<Comparison> {
  const [old, now] = [before, after].map((f) => wallOf(f.header, f.beauty, f.layers));
  const sameSize = before.width === after.width && before.height === after.height;
  const result: Comparison = { passes: [], layers: [] };
  if (!sameSize) result.sizes = [sizeText(before), sizeText(after)];
  for (const [i, pass] of now!.entries()) {
    signal?.throwIfAborted();
    onProgress?.((0.6 * i) / now!.length);
    const was = old!.find((p) => p.name === pass.name);
    const fate = async (): Promise<Fate> => {
      if (!was) return 'came';
      if (!sameSize || was.types !== pass.types || was.channels.join() !== pass.channels.join())
        return 'changed';
      return (await sameChannels(before, after, pass.channels, signal)) ? 'same' : 'changed';
    };
    result.passes.push({ name: pass.name, fate: await fate() });
  }
  for (const pass of old!)
    if (!now!.some((p) => p.name === pass.name)) result.passes.push({ name: pass.name, fate: 'went' });
  for (const layer of after.layers) {
    signal?.throwIfAborted();
    const was = before.layers.find((l) => l.name === layer.name && l.sound);
    if (!was || !layer.sound) continue;
    const [own, other] = [
      castOf(layer, await after.index(layer, { signal })),
      castOf(was, await before.index(was, { signal })),
    ];
    const pixelsBefore = new Map(other.members.map((m) => [m.name, m]));
    const members: Comparison['layers'][number]['members'] = [];
    for (const m of own.members) {
      const known = pixelsBefore.get(m.name);
      pixelsBefore.delete(m.name);
      if (isNothing(m)) continue;
      if (!known) members.push({ name: m.name, fate: 'came', pixels: [0, m.pixels] });
      else if (known.id !== m.id || known.pixels !== m.pixels || Math.abs(known.coverage - m.coverage) > 0.5)
        members.push({ name: m.name, fate: 'changed', pixels: [known.pixels, m.pixels] });
    }
    for (const m of pixelsBefore.values())
      if (!isNothing(m)) members.push({ name: m.name, fate: 'went', pixels: [m.pixels, 0] });
    result.layers.push({ name: layer.name, members });
  }
  onProgress?.(0.9);
  if (sameSize && before.beauty && after.beauty)
    result.difference = differenceOf(await before.picture({ signal }), await after.picture({ signal }), side);
  onProgress?.(1);
  return result;
}
