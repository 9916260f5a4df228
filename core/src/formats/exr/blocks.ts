import type { Work } from '../../crew/work.ts';
import { inflateBlock } from '../../kernels/exr.ts';
import { type Box2i, boxHeight, boxWidth } from '../../planes/box.ts';
import { ByteReader } from './bytes.ts';
import type { PutLine, Zlib } from './compression/compression.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { ExrError } from './errors.ts';
import type { ExrFile, ExrPart } from './header.ts';
import { blocksOf, linesOf } from './block-count.ts';
import { lineBytes, sampledColumns } from './layout.ts';
import { BYTES_PER_SAMPLE, type ChannelInfo, type ExrHeader, type Samples } from './types.ts';

/** Numbers of a block: its pixels (xMin, yMin, xMax, yMax), its place in the file, its length. */
export const SPAN = 6;

/** All that it takes to unpack the blocks of a part: plain data, also for another thread. */
export interface BlocksInput {
  bytes: Uint8Array;
  channels: readonly ChannelInfo[];
  dataWindow: Box2i;
  compression: string;
  /** {@link SPAN} numbers of each block, end to end. */
  spans: Float64Array;
  /** Where the samples of each channel go; undefined for channels that are not wanted. */
  planes: readonly (Samples | undefined)[];
}

/** The pixels of each block of a part by its number, and where that number stands in a block's own words. */
function blockAreas({ tiles, dataWindow: box, compression }: ExrHeader): {
  area(index: number): Box2i;
  /** Reads what a block says of itself; undefined for one of a smaller copy. */
  read(r: ByteReader): number | undefined;
} {
  if (!tiles) {
    const lines = linesOf(compression);
    const count = Math.ceil(boxHeight(box) / lines);
    return {
      area: (i) => ({
        ...box,
        yMin: box.yMin + i * lines,
        yMax: Math.min(box.yMax, box.yMin + (i + 1) * lines - 1),
      }),
      read(r) {
        const y = r.i32('a block of lines');
        const index = (y - box.yMin) / lines;
        if (!Number.isInteger(index) || index < 0 || index >= count)
          throw new ExrError('damaged', `A block claims to begin at line ${y}, which does not exist.`);
        return index;
      },
    };
  }
  const across = Math.ceil(boxWidth(box) / tiles.width);
  const down = Math.ceil(boxHeight(box) / tiles.height);
  return {
    area(i) {
      const xMin = box.xMin + (i % across) * tiles.width;
      const yMin = box.yMin + Math.floor(i / across) * tiles.height;
      return {
        xMin,
        yMin,
        xMax: Math.min(box.xMax, xMin + tiles.width - 1),
        yMax: Math.min(box.yMax, yMin + tiles.height - 1),
      };
    },
    read(r) {
      const [x, y, levelX, levelY] = [0, 1, 2, 3].map(() => r.i32('a tile')) as [
        number,
        number,
        number,
        number,
      ];
      if (levelX !== 0 || levelY !== 0) return undefined;
      if (x < 0 || y < 0 || x >= across || y >= down)
        throw new ExrError('damaged', `A tile claims to be number ${x}, ${y}, which does not exist.`);
      return y * across + x;
    },
  };
}

/** Positions of the blocks of a part by its table; undefined where a writer was stopped before filling it. */
function listed(bytes: Uint8Array, { tableAt, header }: ExrPart, end: number): number[] | undefined {
  const r = new ByteReader(bytes, tableAt);
  const offsets = Array.from({ length: blocksOf(header) }, () => r.u64('the line offset table'));
  return offsets.every((o) => o >= end) ? offsets : undefined;
}

/** The same by walking through the file from block to block, as far as it goes. */
function walked(bytes: Uint8Array, file: ExrFile, part: ExrPart): number[] {
  const found: number[] = [];
  for (let at = file.end; ;) {
    const r = new ByteReader(bytes, at);
    try {
      const index = file.multiPart ? r.i32('a block') : part.index;
      const tiled = file.tiled[index];
      if (tiled === undefined) return found;
      r.take(tiled ? 16 : 4, 'a block');
      r.take(r.i32('a block'), 'a block');
      if (index === part.index) found.push(at);
    } catch {
      return found;
    }
    at = r.at;
  }
}

/** Boxes side by side, or one upon the other, as one. */
function joined(boxes: readonly Box2i[]): Box2i[] {
  const out: Box2i[] = [];
  for (const box of boxes) {
    const last = out.at(-1);
    if (last && last.yMin === box.yMin && last.yMax === box.yMax && last.xMax + 1 === box.xMin)
      last.xMax = box.xMax;
    else if (last && last.xMin === box.xMin && last.xMax === box.xMax && last.yMax + 1 === box.yMin)
      last.yMax = box.yMax;
    else out.push({ ...box });
  }
  return out;
}

/**
 * Finds the blocks of a part: each belongs to the picture, none is there twice. Where the file ends too soon, blocks are
 * missing, and told. Throws {@link ExrError} for damage, and where there is no block at all.
 */
export function findBlocks(
  bytes: Uint8Array,
  file: ExrFile,
  part: ExrPart,
): { spans: Float64Array; missing: Box2i[] } {
  const { area, read } = blockAreas(part.header);
  const count = blocksOf(part.header);
  const offsets = listed(bytes, part, file.end) ?? walked(bytes, file, part);
  const blocks: { index: number; at: number; size: number }[] = [];
  const seen = new Uint8Array(count);
  for (const offset of offsets) {
    let block;
    try {
      const r = new ByteReader(bytes, offset);
      if (file.multiPart && r.i32('a block') !== part.index)
        throw new ExrError('damaged', 'A block belongs to another part than the file says.');
      const index = read(r);
      const size = r.i32('a block');
      r.take(size, 'a block');
      block = { index, at: r.at - size, size };
    } catch (error) {
      // The file ends before it, or in the middle of it.
      if (error instanceof ExrError && error.code === 'truncated') continue;
      throw error;
    }
    const { index, at, size } = block;
    if (index === undefined) continue;
    if (seen[index]) throw new ExrError('damaged', 'Two blocks of the file claim the same pixels.');
    seen[index] = 1;
    blocks.push({ index, at, size });
  }
  if (blocks.length === 0)
    throw new ExrError('truncated', 'The file ends before its first pixels. It was not written completely.');
  blocks.sort((a, b) => a.index - b.index);
  const missing: Box2i[] = [];
  seen.forEach((there, i) => there || missing.push(area(i)));
  const spans = blocks.flatMap(({ index, at, size }) => {
    const { xMin, yMin, xMax, yMax } = area(index);
    return [xMin, yMin, xMax, yMax, at, size];
  });
  return { spans: Float64Array.from(spans), missing: joined(missing) };
}

/** Blocks of a part, and which of its channels are wanted. */
export interface BlockLines extends Omit<BlocksInput, 'planes'> {
  wanted: readonly boolean[];
}

/**
 * Gets ready to unpack blocks; the function returned unpacks one and hands out its lines. `plain` is plain code in
 * place of the kernels.
 */
export function blockReader(
  { bytes, channels, spans, wanted, ...input }: BlockLines,
  plain?: Zlib,
): (block: number, put: PutLine) => void {
  const compression = COMPRESSIONS.find((c) => c.name === input.compression)!;
  return (block, put) => {
    const [xMin, yMin, xMax, yMax, from, length] = spans.subarray(
      SPAN * block,
      SPAN * (block + 1),
    ) as unknown as [number, number, number, number, number, number];
    const data = bytes.subarray(from, from + length);
    const box = { xMin, yMin, xMax, yMax };
    let size = 0;
    for (let line = yMin; line <= yMax; line++) size += lineBytes(channels, box, line);
    const layout = { channels, dataWindow: box, yFirst: yMin, yLast: yMax };
    // Writers store a block raw when compressing would make it larger.
    const stored = data.length === size;
    if (!stored && !plain && compression.unpack) {
      compression.unpack(data, size, layout, wanted, put);
      return;
    }
    const raw = stored ? data : compression.decode(data, size, layout, plain ?? { inflate: inflateBlock });
    const counts = channels.map((c) => sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type]);
    let at = 0;
    for (let line = yMin; line <= yMax; line++)
      for (let i = 0; i < channels.length; i++) {
        if (line % channels[i]!.ySampling !== 0) continue;
        if (wanted[i]) put(i, line, raw.subarray(at, at + counts[i]!));
        at += counts[i]!;
      }
  };
}

/** The same into planes of the whole picture. */
export function blockUnpacker({ planes, ...input }: BlocksInput, plain?: Zlib): (block: number) => void {
  const { channels, dataWindow: box, spans } = input;
  const read = blockReader({ ...input, wanted: planes.map((p) => p !== undefined) }, plain);
  const planeBytes = planes.map((p) => p && new Uint8Array(p.buffer, p.byteOffset, p.byteLength));
  const counts = channels.map((c) => sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type]);
  const firstRow = channels.map((c) => Math.ceil(box.yMin / c.ySampling));
  let xMin = 0;
  const put: PutLine = (i, y, line) => {
    const c = channels[i]!;
    const row = Math.floor(y / c.ySampling) - firstRow[i]!;
    const column = Math.ceil(xMin / c.xSampling) - Math.ceil(box.xMin / c.xSampling);
    planeBytes[i]?.set(line, row * counts[i]! + column * BYTES_PER_SAMPLE[c.type]);
  };
  return (block) => {
    xMin = spans[SPAN * block]!;
    read(block, put);
  };
}

/** Unpacking as work that threads can share, a block a piece. */
export const unpackBlocks: Work<BlocksInput> = {
  kind: 'exr-blocks',
  pieces: ({ spans }) => spans.length / SPAN,
  begin: (input) => blockUnpacker(input),
};
