import type { ChannelInfo } from '../types.ts';
import type { Box2i } from '../../../planes/box.ts';

/** zlib streams (RFC 1950) in plain code: for writing, and for reading without kernels. */
export interface Zlib {
  /** Inflates to exactly `size` bytes; throws anything on damage. */
  inflate(data: Uint8Array, size: number): Uint8Array;
  deflate(data: Uint8Array): Uint8Array;
}

/** Where a block lies, for the compressions that need to know the layout of the samples. */
export interface BlockLayout {
  channels: readonly ChannelInfo[];
  dataWindow: Box2i;
  yFirst: number;
  yLast: number;
}

/** Takes one line of one channel; the bytes are valid only while it runs. */
export type PutLine = (channel: number, y: number, bytes: Uint8Array) => void;

/**
 * One compression of the format: turns a block of raw lines (line by line, in each line channel by channel)
 * into fewer bytes and back. `decode` must return exactly `size` bytes or throw.
 */
export interface Compression {
  name: string;
  number: number;
  linesPerBlock: number;
  /** Plain code, the truth that the kernels are held against. */
  decode(data: Uint8Array, size: number, layout: BlockLayout, zlib: Pick<Zlib, 'inflate'>): Uint8Array;
  /** The same by a kernel, for the wanted channels only. Absent where plain code is as good. */
  unpack?(
    data: Uint8Array,
    size: number,
    layout: BlockLayout,
    wanted: readonly boolean[],
    put: PutLine,
  ): void;
  /** Whether it keeps only nearly what samples of a channel are; absent where it keeps all. */
  loses?(channel: Pick<ChannelInfo, 'name' | 'type'>): boolean;
  /** Absent where it loses something: such a file is read, not written. */
  encode?(raw: Uint8Array, layout: BlockLayout, zlib: Zlib): Uint8Array;
}
