import type { Passes } from '../corrections/correction.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrChannel, ExrHeader } from '../formats/exr/types.ts';
import { isCryptomatteChannel } from '../idlayers/cryptomatte.ts';
import type { DescribedLayer } from '../idlayers/load.ts';
import { plainMemory, type Allocate } from '../planes/tile-store.ts';
import type { BeautyChannels } from './beauty.ts';

/** Another pass of a picture: channels of one layer that are neither the picture nor IDs. */
export interface PassInfo {
  name: string;
  /** One, or three for red, green and blue. */
  channels: string[];
}

/** Letters by which the three channels of a colour or a direction are told apart, in order. */
const THREE = ['RGB', 'XYZ', 'rgb', 'xyz'];

/** Finds the passes by which a picture can be multiplied, in the order of the file: layers with one channel or three. */
export function findPasses(
  header: Pick<ExrHeader, 'channels'>,
  beauty: BeautyChannels | undefined,
  layers: readonly Pick<DescribedLayer, 'channels' | 'info'>[],
): PassInfo[] {
  const taken = new Set<string | undefined>(layers.flatMap((l) => [...l.channels]));
  for (const name of [beauty?.r, beauty?.g, beauty?.b, beauty?.a]) taken.add(name);
  const groups = new Map<string, string[]>();
  for (const { name, xSampling, ySampling } of header.channels) {
    if (xSampling !== 1 || ySampling !== 1 || taken.has(name)) continue;
    // The preview of an ID layer is no pass either.
    if (layers.some((l) => isCryptomatteChannel(l.info, name))) continue;
    const dot = name.lastIndexOf('.');
    const layer = dot < 0 ? name : name.slice(0, dot);
    groups.set(layer, [...(groups.get(layer) ?? []), name]);
  }
  return [...groups].flatMap(([name, channels]): PassInfo[] => {
    if (channels.length === 1) return [{ name, channels }];
    const of = (letter: string) => channels.find((c) => c === `${name}.${letter}`);
    const three = THREE.map((letters) => [...letters].map(of)).find((found) => found.every((c) => c));
    return three ? [{ name, channels: three as string[] }] : [];
  });
}

/** Planes of passes from decoded channels; a pass of which channels are missing is left out. */
export function passPlanes(
  passes: readonly PassInfo[],
  channels: readonly ExrChannel[],
  allocate: Allocate = plainMemory,
): Passes {
  const planes: Record<string, readonly Float32Array[]> = {};
  for (const { name, channels: names } of passes) {
    const found = names.flatMap((n) => channels.find((c) => c.name === n) ?? []);
    if (found.length === names.length) planes[name] = found.map((c) => asFloats(c, allocate));
  }
  return planes;
}
