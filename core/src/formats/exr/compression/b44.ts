import { halfTable, toHalf } from '../../../planes/half.ts';
import { ExrError } from '../errors.ts';
import { blockPlanes } from './block-rows.ts';
import type { Compression } from './compression.ts';

const damaged = () => new ExrError('damaged', 'A B44 block of the file does not add up.');
const LARGEST_HALF = 65504;

let exponentials: Uint16Array | undefined;
/** Channels that are perceptually linear hold 8 times the logarithm of their values. */
function exponential(): Uint16Array {
  if (!exponentials) {
    const values = halfTable();
    exponentials = Uint16Array.from(values, (v) => {
      if (!Number.isFinite(v)) return 0;
      return v >= 8 * Math.log(LARGEST_HALF) ? toHalf(LARGEST_HALF) : toHalf(Math.exp(v / 8));
    });
  }
  return exponentials;
}

/** Four by four pixels from 14 bytes: the first whole, the others as differences of 6 bits, shifted alike. */
function unpackFourteen(b: Uint8Array, at: number, s: Uint16Array): void {
  const shift = b[at + 2]! >> 2;
  const bias = 0x20 << shift;
  s[0] = (b[at]! << 8) | b[at + 1]!;
  // Bit 6 n + 2 of what follows begins the n-th difference.
  const six = (n: number): number => {
    const bit = 16 + 6 + 6 * n;
    const byte = at + (bit >> 3);
    return ((((b[byte]! << 8) | (b[byte + 1] ?? 0)) >> (10 - (bit & 7))) & 0x3f) << shift;
  };
  // Down the first column, then each row to the right.
  for (let row = 1, n = 0; row < 4; row++, n++) s[4 * row] = s[4 * row - 4]! + six(n) - bias;
  for (let column = 1, n = 3; column < 4; column++)
    for (let row = 0; row < 4; row++, n++) s[4 * row + column] = s[4 * row + column - 1]! + six(n) - bias;
}

function b44Of(name: string, number: number): Compression {
  return {
    name,
    number,
    linesPerBlock: 32,
    loses: ({ type }) => type === 'half',
    decode(data, size, layout) {
      const raw = new Uint8Array(size);
      const view = new DataView(raw.buffer);
      const s = new Uint16Array(16);
      let at = 0;
      for (const p of blockPlanes(layout)) {
        if (p.channel.type !== 'half') {
          if (at + p.bytes > data.length) throw damaged();
          p.starts.forEach((start) => {
            raw.set(data.subarray(at, at + p.rowBytes), start);
            at += p.rowBytes;
          });
          continue;
        }
        const own = p.channel.pLinear ? exponential() : undefined;
        for (let y = 0; y < p.rows; y += 4)
          for (let x = 0; x < p.columns; x += 4) {
            if (at + 3 > data.length) throw damaged();
            const flat = data[at + 2]! >= 13 << 2;
            if (!flat && at + 14 > data.length) throw damaged();
            if (flat) s.fill((data[at]! << 8) | data[at + 1]!);
            else unpackFourteen(data, at, s);
            at += flat ? 3 : 14;
            const across = Math.min(4, p.columns - x);
            for (let j = 0; j < 4 && y + j < p.rows; j++)
              for (let i = 0; i < across; i++) {
                const ordered = s[4 * j + i]!;
                // Ordered so that larger numbers are larger values; back to sign and magnitude.
                const half = ordered & 0x8000 ? ordered & 0x7fff : ~ordered & 0xffff;
                view.setUint16(p.starts[y + j]! + 2 * (x + i), own ? own[half]! : half, true);
              }
          }
      }
      return raw;
    },
  };
}

/** Half channels in blocks of 4 by 4 pixels, 14 bytes each; other channels as they are. */
export const b44 = b44Of('b44', 6);
/** The same with flat blocks in 3 bytes. */
export const b44a = b44Of('b44a', 7);
