import type { Crew } from '../../crew/work.ts';
import { blockUnpacker, findBlocks, unpackBlocks, type BlockLines, type BlocksInput } from './blocks.ts';
import type { Zlib } from './compression/compression.ts';
import { ExrError } from './errors.ts';
import { readFile, type ExrFile, type ExrPart } from './header.ts';
import { sampledColumns, sampledRows } from './layout.ts';
import {
  type ExrHeader,
  type ChannelInfo,
  type ExrChannel,
  type ExrImage,
  type Samples,
  BYTES_PER_SAMPLE,
} from './types.ts';

export interface ReadOptions {
  /** Which part of the file, by its place among those that can be read; the first one by default. */
  part?: number | undefined;
  /** Decode only these channels; all of them by default. */
  channels?: ((channel: ChannelInfo) => boolean) | undefined;
  /** Called with the share of blocks decoded, 0 to 1. */
  onProgress?: ((done: number) => void) | undefined;
  /** Refuse pictures whose decoded samples need more bytes than this. Default 4 GiB. */
  maxBytes?: number | undefined;
  signal?: AbortSignal | undefined;
}

/** What a file is, without touching the pixels. Throws {@link ExrError}. */
export interface ExrOutline {
  /** Headers of the parts, in their order; `missing` is known. */
  parts: ExrHeader[];
  /** Parts that cannot be read, and why. */
  refused: ExrFile['refused'];
}
export function readExrOutline(bytes: Uint8Array): ExrOutline {
  const file = readFile(bytes);
  const parts = file.parts.map((part) => {
    const { missing } = findBlocks(bytes, file, part);
    return missing.length ? { ...part.header, missing } : part.header;
  });
  return { parts, refused: file.refused };
}

function newSamples(c: ChannelInfo, count: number, allocate: Crew['allocate']): Samples {
  const memory = allocate(count * BYTES_PER_SAMPLE[c.type]);
  if (c.type === 'half') return new Uint16Array(memory);
  return c.type === 'float' ? new Float32Array(memory) : new Uint32Array(memory);
}

/** A part by its place among those that can be read. */
function partOf(file: ExrFile, part = 0): ExrPart {
  const found = file.parts[part];
  if (!found) throw new ExrError('invalid-input', `The file has no part ${part + 1}.`);
  return found;
}

/** What will be read: all sizes and offsets are checked against the file before the planes are allocated. */
function prepare(
  bytes: Uint8Array,
  { channels: choose, maxBytes = 2 ** 32, part }: ReadOptions,
  allocate: Crew['allocate'],
): { header: ExrHeader; input: BlocksInput } {
  const file = readFile(bytes);
  const own = partOf(file, part);
  const { dataWindow, channels, compression } = own.header;
  const sizes = channels.map((c) => sampledColumns(c, dataWindow) * sampledRows(c, dataWindow));
  const totalBytes = channels.reduce((sum, c, i) => sum + sizes[i]! * BYTES_PER_SAMPLE[c.type], 0);
  if (!(totalBytes <= maxBytes))
    throw new ExrError('too-large', `The picture needs ${Math.round(totalBytes / 2 ** 20)} MiB of memory.`);
  const { spans, missing } = findBlocks(bytes, file, own);
  const planes = channels.map((c, i) =>
    (choose?.(c) ?? true) ? newSamples(c, sizes[i]!, allocate) : undefined,
  );
  const header = missing.length ? { ...own.header, missing } : own.header;
  return { header, input: { bytes, channels, dataWindow, compression, spans, planes } };
}

/** The blocks of a part for whoever reads it line by line, in the order of the lines; undefined if they are not whole lines. */
export function exrBlocks(bytes: Uint8Array, part?: number): Omit<BlockLines, 'wanted'> | undefined {
  const file = readFile(bytes);
  const own = partOf(file, part);
  const { dataWindow, channels, compression, tiles } = own.header;
  const { spans, missing } = findBlocks(bytes, file, own);
  return tiles || missing.length ? undefined : { bytes, channels, dataWindow, compression, spans };
}

const imageOf = (header: ExrHeader, { planes }: BlocksInput): ExrImage => ({
  header,
  channels: header.channels.flatMap((c, i): ExrChannel[] => (planes[i] ? [{ ...c, data: planes[i] }] : [])),
});

/**
 * Reads a part of an OpenEXR file in this thread. Samples stay in the file's types, bit for bit.
 * @param options `plain`: plain code in place of the kernels, which must give the same
 * Throws {@link ExrError}.
 */
export function readExr(bytes: Uint8Array, options: ReadOptions & { plain?: Zlib } = {}): ExrImage {
  const { header, input } = prepare(bytes, options, (size) => new ArrayBuffer(size));
  const unpack = blockUnpacker(input, options.plain);
  const count = unpackBlocks.pieces(input);
  for (let block = 0; block < count; block++) {
    options.signal?.throwIfAborted();
    unpack(block);
    options.onProgress?.((block + 1) / count);
  }
  return imageOf(header, input);
}

/** The same by a crew, which shares the blocks. `bytes` lie in memory that all of it sees. Rejects with {@link ExrError}. */
export async function readExrBy(crew: Crew, bytes: Uint8Array, options: ReadOptions = {}): Promise<ExrImage> {
  const { header, input } = prepare(bytes, options, (size) => crew.allocate(size));
  await crew.share(unpackBlocks, input, options);
  return imageOf(header, input);
}
