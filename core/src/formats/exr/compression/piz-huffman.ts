import { ExrError } from '../errors.ts';

/** Symbols are 16-bit words plus one for "repeat the last word". */
const SYMBOLS = 65537;
const SHORT_ZERO_RUN = 59;
const LONG_ZERO_RUN = 63;
const SHORTEST_LONG_RUN = 2 + LONG_ZERO_RUN - SHORT_ZERO_RUN;
const MAX_LENGTH = 58;
/** Codes up to this long are looked up at once; longer ones are searched by length. */
const TABLE_BITS = 14;

const damaged = () => new ExrError('damaged', 'The Huffman code of a PIZ block is damaged.');

/** Bits, most significant first. */
class BitReader {
  private held = 0;
  private count = 0;
  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}
  /** Up to 24 bits. */
  read(n: number): number {
    while (this.count < n) {
      if (this.at >= this.bytes.length) throw damaged();
      this.held = ((this.held << 8) | this.bytes[this.at++]!) & 0x7fffffff;
      this.count += 8;
    }
    this.count -= n;
    const value = (this.held >>> this.count) & ((1 << n) - 1);
    this.held &= (1 << this.count) - 1;
    return value;
  }
}

function readLengths(bytes: Uint8Array, from: number, first: number, last: number) {
  const bits = new BitReader(bytes, from);
  const lengths = new Uint8Array(SYMBOLS);
  for (let symbol = first; symbol <= last; symbol++) {
    const length = bits.read(6);
    if (length < SHORT_ZERO_RUN) {
      lengths[symbol] = length;
      continue;
    }
    const run = length === LONG_ZERO_RUN ? bits.read(8) + SHORTEST_LONG_RUN : length - SHORT_ZERO_RUN + 2;
    if (symbol + run > last + 1) throw damaged();
    symbol += run - 1;
  }
  return { lengths, end: bits.at };
}

/** Canonical codes: longer codes come first numerically; returned per length as first code and symbols. */
function canonical(lengths: Uint8Array, first: number, last: number) {
  const counts = new Uint32Array(MAX_LENGTH + 1);
  for (let s = first; s <= last; s++) counts[lengths[s]!]!++;
  const firstCode = new Float64Array(MAX_LENGTH + 2);
  let code = 0;
  for (let length = MAX_LENGTH; length > 0; length--) {
    firstCode[length] = code;
    code = Math.floor((code + counts[length]!) / 2);
  }
  const firstIndex = new Uint32Array(MAX_LENGTH + 2);
  let index = 0;
  for (let length = 1; length <= MAX_LENGTH; length++) {
    firstIndex[length] = index;
    index += counts[length]!;
  }
  const symbols = new Uint32Array(index);
  const next = firstIndex.slice();
  for (let s = first; s <= last; s++) if (lengths[s]) symbols[next[lengths[s]!]!++] = s;
  return { counts, firstCode, firstIndex, symbols };
}

/** Undoes PIZ's Huffman code to exactly `size` 16-bit words. */
export function unhuff(bytes: Uint8Array, size: number): Uint16Array {
  const out = new Uint16Array(size);
  if (bytes.length === 0 && size === 0) return out;
  if (bytes.length < 20) throw damaged();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const first = view.getUint32(0, true);
  const last = view.getUint32(4, true);
  const bitCount = view.getUint32(12, true);
  if (first >= SYMBOLS || last >= SYMBOLS || first > last) throw damaged();
  const { lengths, end: dataStart } = readLengths(bytes, 20, first, last);
  if (bitCount > 8 * (bytes.length - dataStart)) throw damaged();
  const { counts, firstCode, firstIndex, symbols } = canonical(lengths, first, last);
  const repeat = last;

  // table[prefix] = symbol * 64 + length, 0 where no short code begins with this prefix.
  const table = new Uint32Array(1 << TABLE_BITS);
  for (let length = 1; length <= TABLE_BITS; length++) {
    for (let k = 0; k < counts[length]!; k++) {
      const from = (firstCode[length]! + k) * 2 ** (TABLE_BITS - length);
      const to = from + 2 ** (TABLE_BITS - length);
      if (to > table.length) throw damaged();
      table.fill(symbols[firstIndex[length]! + k]! * 64 + length, from, to);
    }
  }

  let held = 0;
  let count = 0;
  let at = dataStart;
  let done = 0;
  let written = 0;
  const stop = bytes.length;
  while (done < bitCount) {
    while (count < TABLE_BITS + 8 && at < stop) {
      held = (held << 8) | bytes[at++]!;
      count += 8;
    }
    const peek = count >= TABLE_BITS ? held >>> (count - TABLE_BITS) : held << (TABLE_BITS - count);
    const entry = table[peek & (table.length - 1)]!;
    let symbol: number;
    let length: number;
    if (entry) {
      length = entry & 63;
      symbol = entry >>> 6;
      if (length > count) throw damaged();
      count -= length;
    } else {
      // A long code: take bits one by one until it is one of that length's codes.
      let code = 0;
      length = 0;
      symbol = -1;
      while (length < MAX_LENGTH) {
        if (count === 0) {
          if (at >= stop) throw damaged();
          held = bytes[at++]!;
          count = 8;
        }
        count--;
        code = code * 2 + ((held >>> count) & 1);
        length++;
        const k = code - firstCode[length]!;
        if (length > TABLE_BITS && k >= 0 && k < counts[length]!) {
          symbol = symbols[firstIndex[length]! + k]!;
          break;
        }
      }
      if (symbol < 0) throw damaged();
    }
    held &= (1 << count) - 1;
    done += length;
    if (symbol === repeat) {
      while (count < 8) {
        if (at >= stop) throw damaged();
        held = (held << 8) | bytes[at++]!;
        count += 8;
      }
      count -= 8;
      const run = (held >>> count) & 255;
      held &= (1 << count) - 1;
      done += 8;
      if (written === 0 || written + run > size) throw damaged();
      out.fill(out[written - 1]!, written, written + run);
      written += run;
    } else {
      if (written >= size) throw damaged();
      out[written++] = symbol;
    }
  }
  if (written !== size) throw damaged();
  return out;
}
