import type { ChannelInfo } from '../types.ts';
import type { Box2i } from '../../../planes/box.ts';

/** zlib streams (RFC 1950). The browser uses a JavaScript package; Node hands in its native library. */
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

/**
 * One compression of the format: turns a block of raw lines (line by line, in each line channel by channel)
 * into fewer bytes and back. `decode` must return exactly `size` bytes or throw.
 */
export interface Compression {
  name: string;
  number: number;
  linesPerBlock: number;
  decode(data: Uint8Array, size: number, layout: BlockLayout, zlib: Zlib): Uint8Array;
  /** Absent if this compression can only be read. */
  encode?(raw: Uint8Array, zlib: Zlib): Uint8Array;
}
