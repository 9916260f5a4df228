import { ByteReader } from './bytes.ts';
import type { Zlib } from './compression/compression.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { portableZlib } from './portable-zlib.ts';
import { ExrError } from './errors.ts';
import { readHeader } from './header.ts';
import { lineBytes, sampledColumns, sampledRows } from './layout.ts';
import {
  type ExrHeader,
  type ChannelInfo,
  type ExrChannel,
  type ExrImage,
  type Samples,
  BYTES_PER_SAMPLE,
} from './types.ts';
import { boxHeight } from '../../planes/box.ts';

export interface ReadOptions {
  /** Decode only these channels; all of them by default. */
  channels?: (channel: ChannelInfo) => boolean;
  zlib?: Zlib;
  /** Called with the share of blocks decoded, 0 to 1. */
  onProgress?: (done: number) => void;
  /** Refuse pictures whose decoded samples need more bytes than this. Default 4 GiB. */
  maxBytes?: number;
  signal?: AbortSignal;
}

/** Header only, without touching the pixels. Throws {@link ExrError}. */
export function readExrHeader(bytes: Uint8Array): ExrHeader {
  return readHeader(bytes).header;
}

function newSamples(c: ChannelInfo, count: number): Samples {
  if (c.type === 'half') return new Uint16Array(count);
  return c.type === 'float' ? new Float32Array(count) : new Uint32Array(count);
}

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

/**
 * Reads a single-part scan-line OpenEXR file. Samples stay in the file's types, bit for bit.
 * All sizes and offsets are checked against the file before the planes are allocated.
 * Throws {@link ExrError}.
 */
export function readExr(bytes: Uint8Array, options: ReadOptions = {}): ExrImage {
  const { header, end } = readHeader(bytes);
  const { dataWindow: box, channels } = header;
  const compression = COMPRESSIONS.find((c) => c.name === header.compression)!;
  const zlib = options.zlib ?? portableZlib;

  const height = boxHeight(box);
  const blocks = Math.ceil(height / compression.linesPerBlock);
  const sizes = channels.map((c) => sampledColumns(c, box) * sampledRows(c, box));
  const totalBytes = channels.reduce((sum, c, i) => sum + sizes[i]! * BYTES_PER_SAMPLE[c.type], 0);
  if (!(totalBytes <= (options.maxBytes ?? 2 ** 32)))
    throw new ExrError('too-large', `The picture needs ${Math.round(totalBytes / 2 ** 20)} MiB of memory.`);
  if (end + 8 * blocks > bytes.length)
    throw new ExrError(
      'truncated',
      'The file ends before its table of lines. It was not written completely.',
    );

  const offsets = blockOffsets(bytes, end, blocks);
  const spans = Array.from(offsets, (offset) => {
    const r = new ByteReader(bytes, offset);
    const y = r.i32('a block of lines');
    const size = r.i32('a block of lines');
    const index = (y - box.yMin) / compression.linesPerBlock;
    if (!Number.isInteger(index) || index < 0 || index >= blocks)
      throw new ExrError('damaged', `A block claims to begin at line ${y}, which does not exist.`);
    return { y, data: r.take(size, `the block at line ${y}`) };
  });
  if (new Set(spans.map((s) => s.y)).size !== blocks)
    throw new ExrError('damaged', 'Two blocks of the file claim the same lines.');

  const wanted = channels.map((c) => options.channels?.(c) ?? true);
  const planes = channels.map((c, i) => (wanted[i] ? newSamples(c, sizes[i]!) : undefined));
  const planeBytes = planes.map((p) => p && new Uint8Array(p.buffer));

  spans.forEach(({ y, data }, done) => {
    if (options.signal?.aborted) throw options.signal.reason;
    const yLast = Math.min(y + compression.linesPerBlock - 1, box.yMax);
    let size = 0;
    for (let line = y; line <= yLast; line++) size += lineBytes(channels, box, line);
    // Writers store a block raw when compressing would make it larger.
    const raw =
      data.length === size
        ? data
        : compression.decode(data, size, { channels, dataWindow: box, yFirst: y, yLast }, zlib);
    let at = 0;
    for (let line = y; line <= yLast; line++)
      for (let i = 0; i < channels.length; i++) {
        const c = channels[i]!;
        if (line % c.ySampling !== 0) continue;
        const count = sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type];
        const row =
          c.ySampling === 1
            ? line - box.yMin
            : Math.floor(line / c.ySampling) - Math.ceil(box.yMin / c.ySampling);
        planeBytes[i]?.set(raw.subarray(at, at + count), row * count);
        at += count;
      }
    options.onProgress?.((done + 1) / blocks);
  });

  return {
    header,
    channels: channels.flatMap((c, i): ExrChannel[] => (planes[i] ? [{ ...c, data: planes[i] }] : [])),
  };
}
