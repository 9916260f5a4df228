import { exrReader } from './exr/reader.ts';
import { jpegReader } from './jpeg/reader.ts';
import { pngReader } from './png/reader.ts';
import { tiffReader } from './tiff/reader.ts';
import type { ImageReader } from './reader.ts';

/** Every format that pictures are read from. */
export const READERS: readonly ImageReader[] = [exrReader, pngReader, tiffReader, jpegReader];

/** The reader for a file by its first bytes; the first one, whose error says what is wrong, if none knows it. */
export const readerFor = (bytes: Uint8Array): ImageReader =>
  READERS.find((r) => r.sniff(bytes.subarray(0, 16))) ?? READERS[0]!;

/** The reader for a file by its name, before there are bytes. */
export const readerByName = (name: string): ImageReader | undefined =>
  READERS.find((r) => r.endings.some((e) => name.toLowerCase().endsWith(`.${e}`)));
