import { ExrError } from '../errors.ts';
import { sampledColumns } from '../layout.ts';
import type { Compression } from './compression.ts';
import { unhuff } from './piz-huffman.ts';
import { unwavelet } from './piz-wavelet.ts';

const BITMAP_BYTES = 8192;

/** Table from the dense numbers that were coded back to the 16-bit values that occurred. */
function valuesOf(bitmap: Uint8Array): { lut: Uint16Array; maximum: number } {
  const lut = new Uint16Array(65536);
  let count = 0;
  for (let value = 0; value < 65536; value++)
    if (value === 0 || bitmap[value >> 3]! & (1 << (value & 7))) lut[count++] = value;
  return { lut, maximum: count - 1 };
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
    const { lut, maximum } = valuesOf(bitmap);
    if (at + 4 > data.length) throw new ExrError('damaged', 'A PIZ block is too short.');
    const length = view.getInt32(at, true);
    at += 4;
    if (length < 0 || at + length > data.length)
      throw new ExrError('damaged', 'The coded part of a PIZ block runs past its end.');
    const words = unhuff(data.subarray(at, at + length), size >> 1);

    const { channels, dataWindow, yFirst, yLast } = layout;
    const planes = channels.map((c) => {
      let rows = 0;
      for (let y = yFirst; y <= yLast; y++) if (y % c.ySampling === 0) rows++;
      return { channel: c, columns: sampledColumns(c, dataWindow), rows, words: c.type === 'half' ? 1 : 2 };
    });
    let offset = 0;
    const starts = planes.map((p) => {
      const start = offset;
      // A 32-bit sample is two interleaved planes of 16-bit words, each transformed on its own.
      for (let k = 0; k < p.words; k++)
        unwavelet(words, start + k, p.columns, p.words, p.rows, p.columns * p.words, maximum);
      offset += p.columns * p.rows * p.words;
      return start;
    });
    for (let i = 0; i < words.length; i++) words[i] = lut[words[i]!]!;

    const raw = new Uint16Array(size >> 1);
    let out = 0;
    for (let y = yFirst; y <= yLast; y++)
      planes.forEach((p, i) => {
        if (y % p.channel.ySampling !== 0) return;
        const count = p.columns * p.words;
        raw.set(words.subarray(starts[i]!, starts[i]! + count), out);
        starts[i]! += count;
        out += count;
      });
    return new Uint8Array(raw.buffer);
  },
};
