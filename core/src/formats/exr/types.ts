import type { Box2i } from '../../planes/box.ts';
/** The three sample types of OpenEXR; the numbers are those of the file format. */
export type PixelType = 'uint' | 'half' | 'float';
export const PIXEL_TYPES: readonly PixelType[] = ['uint', 'half', 'float'];
export const BYTES_PER_SAMPLE: Record<PixelType, 2 | 4> = { uint: 4, half: 2, float: 4 };

export interface ChannelInfo {
  name: string;
  type: PixelType;
  xSampling: number;
  ySampling: number;
  /** What its numbers mean where that is not scene-linear light or data: values for a screen, 0 to 1, sRGB. */
  encoding?: 'display';
  /** Bits of a sample in the file, where that is not the type's. */
  bits?: number;
  /** True if it was packed with loss, so that its values are near what was rendered, not the same. */
  lossy?: boolean;
  /** True for a channel that no file holds: it is computed from others. */
  derived?: boolean;
  /** True if the writer said that the channel is perceptually linear; only kept, never used. */
  pLinear: boolean;
}

/** Any header attribute, kept as the bytes of the file so that it can be written back unchanged. */
export interface ExrAttribute {
  name: string;
  type: string;
  value: Uint8Array;
}

/** How a part that is stored in tiles is cut up. */
export interface TileLayout {
  width: number;
  height: number;
  /** Smaller copies that follow the picture: none, one row of them, or one for every pair of sizes. */
  levels: 'one' | 'mip' | 'rip';
  /** Whether sizes of levels are rounded up. */
  roundUp: boolean;
}

export interface ExrHeader {
  /** What the part is called, in a file of several. */
  name?: string;
  /** Where the file ends too soon: no pixels are there. */
  missing?: Box2i[];
  /** What a picture of another format says of its colours: a profile or a gamma, for people. Told, never applied. */
  profile?: string;
  tiles?: TileLayout;
  dataWindow: Box2i;
  displayWindow: Box2i;
  compression: string;
  lineOrder: 'increasing' | 'decreasing' | 'random';
  pixelAspectRatio: number;
  channels: ChannelInfo[];
  /** Every attribute in file order, the structural ones included. */
  attributes: ExrAttribute[];
}

/** Samples of one channel: half as raw bit patterns; the array is row-major, dataWindow-sized, no padding. */
export type Samples = Uint16Array | Float32Array | Uint32Array;

export interface ExrChannel extends ChannelInfo {
  data: Samples;
}

export interface ExrImage {
  header: ExrHeader;
  channels: ExrChannel[];
}
