import { unpizBlock } from '../../../kernels/piz.ts';
import { ExrError } from '../errors.ts';
import { sampledColumns } from '../layout.ts';
import type { BlockLayout, Compression } from './compression.ts';
import { huff } from './piz-huffman-encode.ts';
import { unhuff } from './piz-huffman.ts';
import { unwavelet, wavelet } from './piz-wavelet.ts';

const BITMAP_BYTES = 8192;

/** Table from the dense numbers that were coded back to the 16-bit values that occurred. */
function valuesOf(bitmap: Uint8Array): { lut: Uint16Array; maximum: number } {
  const lut = new Uint16Array(65536);
  let count = 0;
  for (let value = 0; value < 65536; value++)
    if (value === 0 || bitmap[value >> 3]! & (1 << (value & 7))) lut[count++] = value;
  return { lut, maximum: count - 1 };
}

/** The channels of a block, one after the other: columns, rows, and 16-bit words a sample. */
function planesOf({ channels, dataWindow, yFirst, yLast }: BlockLayout) {
  return channels.map((channel) => {
    let rows = 0;
    for (let y = yFirst; y <= yLast; y++) if (y % channel.ySampling === 0) rows++;
    return {
      channel,
      columns: sampledColumns(channel, dataWindow),
      rows,
      words: channel.type === 'half' ? 1 : 2,
    };
  });
}

/** Value table and Huffman-coded part of a block. */
function partsOf(data: Uint8Array): { bitmap: Uint8Array; coded: Uint8Array } {
  if (data.length < 4) throw new ExrError('damaged', 'A PIZ block is too short.');
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const first = view.getUint16(0, true);
  const last = view.getUint16(2, true);
  let at = 4;
  const bitmap = new Uint8Array(BITMAP_BYTES);
  if (first <= last) {
    if (last >= BITMAP_BYTES || at + last - first + 1 > data.length)
      throw new ExrError('damaged', 'The value table of a PIZ block is damaged.');
    bitmap.set(data.subarray(at, at + last - first + 1), first);
    at += last - first + 1;
  }
  if (at + 4 > data.length) throw new ExrError('damaged', 'A PIZ block is too short.');
  const length = view.getInt32(at, true);
  at += 4;
  if (length < 0 || at + length > data.length)
    throw new ExrError('damaged', 'The coded part of a PIZ block runs past its end.');
  return { bitmap, coded: data.subarray(at, at + length) };
}

/** Words of a block between its own order, line by line, and that of the wavelet, channel by channel. */
function reorder(
  planes: ReturnType<typeof planesOf>,
  { yFirst, yLast }: BlockLayout,
  move: (inLines: number, inPlanes: number, count: number) => void,
): void {
  let at = 0;
  const starts = planes.map((p) => {
    const start = at;
    at += p.columns * p.rows * p.words;
    return start;
  });
  let line = 0;
  for (let y = yFirst; y <= yLast; y++)
    planes.forEach((p, i) => {
      if (y % p.channel.ySampling !== 0) return;
      const count = p.columns * p.words;
      move(line, starts[i]!, count);
      starts[i]! += count;
      line += count;
    });
}

/**
 * PIZ: the 16-bit words of each channel are renumbered densely, passed through a two-dimensional Haar wavelet
 * and Huffman-coded. Format facts: OpenEXR technical introduction and file layout documents.
 */
export const piz: Compression = {
  name: 'piz',
  number: 4,
  linesPerBlock: 32,
  decode(data, size, layout) {
    const { bitmap, coded } = partsOf(data);
    const { lut, maximum } = valuesOf(bitmap);
    const words = unhuff(coded, size >> 1);
    const planes = planesOf(layout);
    let offset = 0;
    for (const p of planes) {
      // A 32-bit sample is two interleaved planes of 16-bit words, each transformed on its own.
      for (let k = 0; k < p.words; k++)
        unwavelet(words, offset + k, p.columns, p.words, p.rows, p.columns * p.words, maximum);
      offset += p.columns * p.rows * p.words;
    }
    for (let i = 0; i < words.length; i++) words[i] = lut[words[i]!]!;
    const raw = new Uint16Array(size >> 1);
    reorder(planes, layout, (line, plane, count) => raw.set(words.subarray(plane, plane + count), line));
    return new Uint8Array(raw.buffer);
  },
  unpack(data, _size, layout, wanted, put) {
    const { bitmap, coded } = partsOf(data);
    const planes = planesOf(layout);
    const samples = unpizBlock(
      coded,
      bitmap,
      planes.map((p, i) => ({ ...p, wanted: wanted[i]! })),
    );
    if (!samples) throw new ExrError('damaged', 'The Huffman code of a PIZ block is damaged.');
    planes.forEach((p, i) => {
      const bytes = 2 * p.columns * p.words;
      let at = 0;
      for (let y = layout.yFirst; y <= layout.yLast; y++) {
        if (y % p.channel.ySampling !== 0) continue;
        if (samples[i]) put(i, y, samples[i].subarray(at, at + bytes));
        at += bytes;
      }
    });
  },
  encode(raw, layout) {
    const inLines = new Uint16Array(raw.buffer, raw.byteOffset, raw.length >> 1);
    const planes = planesOf(layout);
    const words = new Uint16Array(inLines.length);
    reorder(planes, layout, (line, plane, count) => words.set(inLines.subarray(line, line + count), plane));
    const bitmap = new Uint8Array(BITMAP_BYTES);
    for (const word of words) bitmap[word >> 3]! |= 1 << (word & 7);
    // 0 is always in the table and not told.
    bitmap[0]! &= 0xfe;
    let first = 0;
    while (first < BITMAP_BYTES && bitmap[first] === 0) first++;
    let last = BITMAP_BYTES - 1;
    while (last >= first && bitmap[last] === 0) last--;
    const { lut, maximum } = valuesOf(bitmap);
    const numbers = new Uint16Array(65536);
    for (let i = 0; i <= maximum; i++) numbers[lut[i]!] = i;
    for (let i = 0; i < words.length; i++) words[i] = numbers[words[i]!]!;
    let offset = 0;
    for (const p of planes) {
      for (let k = 0; k < p.words; k++)
        wavelet(words, offset + k, p.columns, p.words, p.rows, p.columns * p.words, maximum);
      offset += p.columns * p.rows * p.words;
    }
    const coded = huff(words);
    const table = first <= last ? bitmap.subarray(first, last + 1) : bitmap.subarray(0, 0);
    const out = new Uint8Array(8 + table.length + coded.length);
    const view = new DataView(out.buffer);
    view.setUint16(0, first <= last ? first : BITMAP_BYTES - 1, true);
    view.setUint16(2, first <= last ? last : 0, true);
    out.set(table, 4);
    view.setInt32(4 + table.length, coded.length, true);
    out.set(coded, 8 + table.length);
    return out;
  },
};
