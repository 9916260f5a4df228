import { ExrError } from './exr/errors.ts';
import type { ExrOutline } from './exr/read.ts';
import type { ChannelInfo, ExrChannel, ExrHeader, ExrImage } from './exr/types.ts';
import type { ReadOptions } from './exr/read.ts';
import type { Crew } from '../crew/work.ts';

/** A picture of a format that knows one size, and channels side by side. */
export interface Raster {
  width: number;
  height: number;
  /** Bits of a sample; 32 are floating point. */
  bits: 8 | 16 | 32;
  /** Samples of a pixel: grey, grey and alpha, colour, or colour and alpha. */
  channels: number;
  /** How it is packed, for people. */
  compression: string;
  /** What the file says of its colours beyond its format: a profile or a gamma, for people. */
  profile?: string | undefined;
}

/** Most pixels that are read: a small file may claim a huge picture. */
const MOST_PIXELS = 300e6;
const NAMES: Record<number, readonly string[]> = {
  1: ['Y'],
  2: ['Y', 'A'],
  3: ['R', 'G', 'B'],
  4: ['R', 'G', 'B', 'A'],
};

const namesOf = ({ channels }: Raster): readonly string[] =>
  NAMES[channels] ?? Array.from({ length: channels }, (_, i) => `channel ${i + 1}`);

/** Header of such a picture. Whole numbers are values for a screen, floats are scene-linear; alpha is coverage. */
export function rasterHeader(raster: Raster): ExrHeader {
  const { width, height, bits, compression, profile } = raster;
  if (!(width > 0 && height > 0)) throw new ExrError('damaged', 'The picture has no size.');
  if (width * height > MOST_PIXELS)
    throw new ExrError('too-large', `The picture has more than ${MOST_PIXELS / 1e6} million pixels.`);
  const box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return {
    dataWindow: box,
    displayWindow: box,
    compression,
    ...(profile === undefined ? {} : { profile }),
    lineOrder: 'increasing',
    pixelAspectRatio: 1,
    attributes: [],
    channels: namesOf(raster).map((name): ChannelInfo => ({
      name,
      type: 'float',
      xSampling: 1,
      ySampling: 1,
      pLinear: false,
      bits,
      ...(bits < 32 && name !== 'A' ? { encoding: 'display' } : {}),
      ...(compression === 'jpeg' ? { lossy: true } : {}),
    })),
  };
}

export const rasterOutline = (raster: Raster): ExrOutline => ({ parts: [rasterHeader(raster)], refused: [] });

/**
 * The wanted channels from samples side by side, whole numbers as shares of the largest: 0 to 1.
 * @param samples `channels` numbers a pixel, row by row from the top
 */
export function rasterImage(
  raster: Raster,
  samples: ArrayLike<number>,
  { channels: choose }: ReadOptions,
  allocate: Crew['allocate'],
): ExrImage {
  const header = rasterHeader(raster);
  const count = raster.width * raster.height;
  if (samples.length < count * raster.channels)
    throw new ExrError('truncated', 'The picture ends too soon. It was not written completely.');
  const scale = raster.bits === 32 ? 1 : 1 / (2 ** raster.bits - 1);
  const channels = header.channels.flatMap((c, k): ExrChannel[] => {
    if (choose && !choose(c)) return [];
    const data = new Float32Array(allocate(4 * count));
    for (let i = 0, at = k; i < count; i++, at += raster.channels) data[i] = samples[at]! * scale;
    return [{ ...c, data }];
  });
  return { header, channels };
}
