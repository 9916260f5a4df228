import type { Crew } from '../../crew/work.ts';
import { blockUnpacker, findBlocks, unpackBlocks, type BlockLines, type BlocksInput } from './blocks.ts';
import type { Zlib } from './compression/compression.ts';
import { ExrError } from './errors.ts';
import { readHeader } from './header.ts';
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
  /** Decode only these channels; all of them by default. */
  channels?: ((channel: ChannelInfo) => boolean) | undefined;
  /** Called with the share of blocks decoded, 0 to 1. */
  onProgress?: ((done: number) => void) | undefined;
  /** Refuse pictures whose decoded samples need more bytes than this. Default 4 GiB. */
  maxBytes?: number | undefined;
  signal?: AbortSignal | undefined;
}

/** Header only, without touching the pixels. Throws {@link ExrError}. */
export function readExrHeader(bytes: Uint8Array): ExrHeader {
  return readHeader(bytes).header;
}

function newSamples(c: ChannelInfo, count: number, allocate: Crew['allocate']): Samples {
  const memory = allocate(count * BYTES_PER_SAMPLE[c.type]);
  if (c.type === 'half') return new Uint16Array(memory);
  return c.type === 'float' ? new Float32Array(memory) : new Uint32Array(memory);
}

/** What will be read: all sizes and offsets are checked against the file before the planes are allocated. */
function prepare(
  bytes: Uint8Array,
  { channels: choose, maxBytes = 2 ** 32 }: ReadOptions,
  allocate: Crew['allocate'],
): { header: ExrHeader; input: BlocksInput } {
  const { header, end } = readHeader(bytes);
  const { dataWindow, channels, compression } = header;
  const sizes = channels.map((c) => sampledColumns(c, dataWindow) * sampledRows(c, dataWindow));
  const totalBytes = channels.reduce((sum, c, i) => sum + sizes[i]! * BYTES_PER_SAMPLE[c.type], 0);
  if (!(totalBytes <= maxBytes))
    throw new ExrError('too-large', `The picture needs ${Math.round(totalBytes / 2 ** 20)} MiB of memory.`);
  const spans = findBlocks(bytes, header, end);
  const planes = channels.map((c, i) =>
    (choose?.(c) ?? true) ? newSamples(c, sizes[i]!, allocate) : undefined,
  );
  return { header, input: { bytes, channels, dataWindow, compression, spans, planes } };
}

/** The blocks of a file for whoever reads it line by line; the numbers of `spans` come in the order of the lines. */
export function exrBlocks(bytes: Uint8Array): Omit<BlockLines, 'wanted'> {
  const { header, end } = readHeader(bytes);
  const { dataWindow, channels, compression } = header;
  const spans = findBlocks(bytes, header, end);
  const order = Array.from({ length: spans.length / 3 }, (_, i) => spans.subarray(3 * i, 3 * i + 3)).sort(
    (a, b) => a[0]! - b[0]!,
  );
  return {
    bytes,
    channels,
    dataWindow,
    compression,
    spans: Float64Array.from(order.flatMap((span) => [...span])),
  };
}

const imageOf = (header: ExrHeader, { planes }: BlocksInput): ExrImage => ({
  header,
  channels: header.channels.flatMap((c, i): ExrChannel[] => (planes[i] ? [{ ...c, data: planes[i] }] : [])),
});

/**
 * Reads a single-part scan-line OpenEXR file in this thread. Samples stay in the file's types, bit for bit.
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
