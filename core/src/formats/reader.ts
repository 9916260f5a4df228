import type { Crew } from '../crew/work.ts';
import type { BlockLines } from './exr/blocks.ts';
import type { ExrImage } from './exr/types.ts';
import type { ExrOutline, ReadOptions } from './exr/read.ts';

/**
 * A format that pictures are read from: one folder a format, and one line in `registry.ts`. Drop zone, server and
 * command line take endings and media types from here.
 */
export interface ImageReader {
  format: string;
  /** What it is called for people. */
  label: string;
  /** File name endings, lower case, without the dot. */
  endings: readonly string[];
  mediaType: string;
  /** True if a file that begins with these bytes is of this format, whatever it is called. */
  sniff(head: Uint8Array): boolean;
  /** What can be told before the pixels are read. Fails with an ExrError in plain words. */
  outline(bytes: Uint8Array): ExrOutline | Promise<ExrOutline>;
  /** Reads pixels, the blocks shared by a crew that sees the bytes. */
  read(bytes: Uint8Array, crew: Crew, options?: ReadOptions): Promise<ExrImage>;
  /** Blocks of lines of a part, for work that needs no whole planes; undefined if it is not stored like that. */
  blocks(bytes: Uint8Array, part?: number): Omit<BlockLines, 'wanted'> | undefined;
}
