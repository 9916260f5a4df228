import { srgbToLinear } from '../colour/srgb.ts';
import type { Crew } from '../crew/work.ts';
import type { ChannelInfo, ExrAttribute, ExrHeader } from '../formats/exr/types.ts';
import { makeNumberedLayer } from '../idlayers/numbered.ts';
import type { Size } from '../planes/size.ts';
import { MASK_LAYER, type ChannelMask } from './interpretation.ts';

/**
 * Channels of a frame that no file holds: they are computed from others, and from then on are like any other. So a sum
 * of lights is the picture, and a mask made of channels can be picked, exported and written.
 */
export interface Derived {
  channels: readonly ChannelInfo[];
  /** Channels that they are computed from. */
  from: readonly ChannelInfo[];
  /** True if those are seen no more: they are the same thing stored in another way. */
  replaces?: boolean;
  attributes?: readonly ExrAttribute[];
  /** Fills a plane for each channel; one plane comes for each that it is computed from, none of which is written in. */
  make(
    from: readonly Float32Array[],
    out: readonly Float32Array[],
    size: Size,
    crew: Crew,
  ): void | Promise<void>;
}

export const floatChannel = (name: string): ChannelInfo => ({
  name,
  type: 'float',
  xSampling: 1,
  ySampling: 1,
  pLinear: false,
  derived: true,
});

/** A header with derived channels among its own. */
export function withDerived(header: ExrHeader, groups: readonly Derived[]): ExrHeader {
  if (groups.length === 0) return header;
  const gone = new Set(
    groups.flatMap((g) => [...g.channels, ...(g.replaces ? g.from : [])]).map((c) => c.name),
  );
  const channels = [
    ...header.channels.filter((c) => !gone.has(c.name)),
    ...groups.flatMap((g) => g.channels),
  ].sort((a, b) => (a.name < b.name ? -1 : 1));
  return {
    ...header,
    channels,
    attributes: [...header.attributes, ...groups.flatMap((g) => g.attributes ?? [])],
  };
}

/** Layer of a sum of lights. */
export const SUM_LAYER = 'added up';

/** The sum of some layers of colours, as light: what was made for a screen is brought to light first. */
export function sumOfLayers(header: ExrHeader, layers: readonly string[]): Derived {
  const letters = ['R', 'G', 'B'] as const;
  const named = (layer: string, letter: string) => (layer === 'RGBA' ? letter : `${layer}.${letter}`);
  const from = layers.flatMap((layer) =>
    letters.flatMap((letter) => header.channels.find((c) => c.name === named(layer, letter)) ?? []),
  );
  return {
    channels: letters.map((letter) => floatChannel(`${SUM_LAYER}.${letter}`)),
    from,
    make(planes, out) {
      planes.forEach((plane, i) => {
        const sum = out[i % 3]!;
        const display = from[i]!.encoding === 'display';
        for (let p = 0; p < sum.length; p++) sum[p]! += display ? srgbToLinear(plane[p]!) : plane[p]!;
      });
    },
  };
}

/** Masks made of channels; one whose channels are not all there is left out. */
export function masksOfChannels(header: ExrHeader, masks: readonly ChannelMask[]): Derived[] {
  const known = new Map(header.channels.map((c) => [c.name, c]));
  return masks.flatMap((mask): Derived[] => {
    const from = mask.channels.flatMap(({ channel }) => known.get(channel) ?? []);
    if (from.length < mask.channels.length) return [];
    const info = floatChannel(`${MASK_LAYER}.${mask.name}`);
    return [
      {
        channels: [info],
        from,
        attributes: [
          makeNumberedLayer({
            layer: MASK_LAYER,
            kind: 'channel-mask',
            members: [{ channel: info.name, member: mask.name }],
          }),
        ],
        make: (planes, [out]) => maskOfPlanes(mask, planes, out!),
      },
    ];
  });
}

/** The coverage that a mask of channels gives, 0 to 1; what is no number covers nothing. */
export function maskOfPlanes(
  { channels, from, to }: Omit<ChannelMask, 'name'>,
  planes: readonly Float32Array[],
  out: Float32Array,
): void {
  for (let p = 0; p < out.length; p++) {
    let sum = 0;
    for (let i = 0; i < planes.length; i++) sum += channels[i]!.times * planes[i]![p]!;
    // Where both ends are the same it is a step.
    const share = from === to ? Number(sum >= from) : (sum - from) / (to - from);
    out[p] = share > 0 ? Math.min(1, share) : 0;
  }
}
