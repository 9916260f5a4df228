import type { Work } from '../../crew/work.ts';
import { inflateBlock } from '../../kernels/exr.ts';
import { type Box2i, boxHeight } from '../../planes/box.ts';
import { ByteReader } from './bytes.ts';
import type { PutLine, Zlib } from './compression/compression.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { ExrError } from './errors.ts';
import { lineBytes, sampledColumns } from './layout.ts';
import { BYTES_PER_SAMPLE, type ChannelInfo, type ExrHeader, type Samples } from './types.ts';

/** All that it takes to unpack the blocks of a file: plain data, also for another thread. */
export interface BlocksInput {
  bytes: Uint8Array;
  channels: readonly ChannelInfo[];
  dataWindow: Box2i;
  compression: string;
  /** First line, place and length of each block, end to end. */
  spans: Float64Array;
  /** Where the samples of each channel go; undefined for channels that are not wanted. */
  planes: readonly (Samples | undefined)[];
}

const compressionOf = (name: string) => COMPRESSIONS.find((c) => c.name === name)!;

/** How many blocks a file has. */
export const blockCount = ({ dataWindow, compression }: ExrHeader): number =>
  Math.ceil(boxHeight(dataWindow) / compressionOf(compression).linesPerBlock);

/** Block positions: the file's table, or, where a writer was stopped before filling it, found by walking. */
function blockOffsets(bytes: Uint8Array, tableAt: number, count: number): Float64Array {
  const r = new ByteReader(bytes, tableAt);
  const offsets = new Float64Array(count);
  let sound = true;
  for (let i = 0; i < count; i++) {
    offsets[i] = r.u64('the line offset table');
    if (offsets[i]! < r.at - 8 * (i + 1) + 8 * count || offsets[i]! + 8 > bytes.length) sound = false;
  }
  if (sound) return offsets;
  let at = r.at;
  for (let i = 0; i < count; i++) {
    offsets[i] = at;
    const block = new ByteReader(bytes, at);
    block.i32('a block of lines');
    const size = block.i32('a block of lines');
    block.take(size, 'a block of lines');
    at = block.at;
  }
  return offsets;
}

/** Finds every block of a file and checks that they are the lines of the picture, each once. Throws {@link ExrError}. */
export function findBlocks(bytes: Uint8Array, header: ExrHeader, tableAt: number): Float64Array {
  const { dataWindow: box, compression } = header;
  const blocks = blockCount(header);
  const lines = compressionOf(compression).linesPerBlock;
  if (tableAt + 8 * blocks > bytes.length)
    throw new ExrError(
      'truncated',
      'The file ends before its table of lines. It was not written completely.',
    );
  const spans = new Float64Array(3 * blocks);
  const seen = new Uint8Array(blocks);
  blockOffsets(bytes, tableAt, blocks).forEach((offset, i) => {
    const r = new ByteReader(bytes, offset);
    const y = r.i32('a block of lines');
    const size = r.i32('a block of lines');
    const index = (y - box.yMin) / lines;
    if (!Number.isInteger(index) || index < 0 || index >= blocks)
      throw new ExrError('damaged', `A block claims to begin at line ${y}, which does not exist.`);
    if (seen[index]) throw new ExrError('damaged', 'Two blocks of the file claim the same lines.');
    seen[index] = 1;
    r.take(size, `the block at line ${y}`);
    spans.set([y, offset + 8, size], 3 * i);
  });
  return spans;
}

/** Blocks of a file, and which of its channels are wanted. */
export interface BlockLines extends Omit<BlocksInput, 'planes'> {
  wanted: readonly boolean[];
}

/** Lines that a block of the file's compression holds. */
export const linesPerBlock = ({ compression }: Pick<BlocksInput, 'compression'>): number =>
  compressionOf(compression).linesPerBlock;

/**
 * Gets ready to unpack blocks; the function returned unpacks one and hands out its lines. `plain` is plain code in
 * place of the kernels.
 */
export function blockReader(
  { bytes, channels, dataWindow: box, spans, wanted, ...input }: BlockLines,
  plain?: Zlib,
): (block: number, put: PutLine) => void {
  const compression = compressionOf(input.compression);
  const counts = channels.map((c) => sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type]);
  return (block, put) => {
    const y = spans[3 * block]!;
    const from = spans[3 * block + 1]!;
    const data = bytes.subarray(from, from + spans[3 * block + 2]!);
    const yLast = Math.min(y + compression.linesPerBlock - 1, box.yMax);
    let size = 0;
    for (let line = y; line <= yLast; line++) size += lineBytes(channels, box, line);
    const layout = { channels, dataWindow: box, yFirst: y, yLast };
    // Writers store a block raw when compressing would make it larger.
    const stored = data.length === size;
    if (!stored && !plain && compression.unpack) {
      compression.unpack(data, size, layout, wanted, put);
      return;
    }
    const raw = stored ? data : compression.decode(data, size, layout, plain ?? { inflate: inflateBlock });
    let at = 0;
    for (let line = y; line <= yLast; line++)
      for (let i = 0; i < channels.length; i++) {
        if (line % channels[i]!.ySampling !== 0) continue;
        if (wanted[i]) put(i, line, raw.subarray(at, at + counts[i]!));
        at += counts[i]!;
      }
  };
}

/** The same into planes of the whole picture. */
export function blockUnpacker({ planes, ...input }: BlocksInput, plain?: Zlib): (block: number) => void {
  const { channels, dataWindow: box } = input;
  const read = blockReader({ ...input, wanted: planes.map((p) => p !== undefined) }, plain);
  const planeBytes = planes.map((p) => p && new Uint8Array(p.buffer, p.byteOffset, p.byteLength));
  const counts = channels.map((c) => sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type]);
  const firstRow = channels.map((c) => Math.ceil(box.yMin / c.ySampling));
  const put: PutLine = (channel, y, line) => {
    const row = Math.floor(y / channels[channel]!.ySampling) - firstRow[channel]!;
    planeBytes[channel]?.set(line, row * counts[channel]!);
  };
  return (block) => read(block, put);
}

/** Unpacking as work that threads can share, a block a piece. */
export const unpackBlocks: Work<BlocksInput> = {
  kind: 'exr-blocks',
  pieces: ({ spans }) => spans.length / 3,
  begin: (input) => blockUnpacker(input),
};
