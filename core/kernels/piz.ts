/**
 * PIZ blocks of OpenEXR files: Huffman code by a table of 14 bits, the inverse wavelet, and the table of values.
 * `formats/exr/compression/piz*.ts` says how it works; these are its loops.
 */
const SYMBOLS: u32 = 65537;
const TABLE_BITS: u32 = 14;
const LONGEST: u32 = 58;
const SHORT_ZERO_RUN: u32 = 59;
const LONG_ZERO_RUN: u32 = 63;
const SHORTEST_LONG_RUN: u32 = 6;

const lengths = memory.data(65552, 16);
const table = memory.data(4 * (1 << 14), 16);
const counts = memory.data(4 * 64, 16);
const firstCode = memory.data(8 * 64, 16);
const firstIndex = memory.data(4 * 64, 16);
const nextIndex = memory.data(4 * 64, 16);
const symbols = memory.data(4 * 65552, 16);
const values = memory.data(2 * 65536, 16);

/** First address that is free for the caller. */
export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

/** Undoes the Huffman code: `n` bytes at `p` to `size` words at `out`. 16 bytes after the end must be readable. */
export function unhuff(p: usize, n: u32, out: usize, size: u32): i32 {
  if (n < 20) return 1;
  const first = load<u32>(p);
  const last = load<u32>(p + 4);
  const bitCount = load<u32>(p + 12);
  if (first >= SYMBOLS || last >= SYMBOLS || first > last) return 1;
  const inEnd = p + n;
  let q = p + 20;

  memory.fill(lengths, 0, SYMBOLS);
  let held: u64 = 0;
  let have: u32 = 0;
  for (let s = first; s <= last; s++) {
    if (have < 6) {
      if (q >= inEnd) return 1;
      held = (held << 8) | load<u8>(q++);
      have += 8;
    }
    have -= 6;
    const length = <u32>(held >> have) & 63;
    if (length < SHORT_ZERO_RUN) {
      store<u8>(lengths + s, <u8>length);
      continue;
    }
    let run = length - SHORT_ZERO_RUN + 2;
    if (length == LONG_ZERO_RUN) {
      if (have < 8) {
        if (q >= inEnd) return 1;
        held = (held << 8) | load<u8>(q++);
        have += 8;
      }
      have -= 8;
      run = (<u32>(held >> have) & 255) + SHORTEST_LONG_RUN;
    }
    if (s + run > last + 1) return 1;
    s += run - 1;
  }
  if (<u64>bitCount > 8 * <u64>(inEnd - q)) return 1;

  memory.fill(counts, 0, 4 * 64);
  for (let s = first; s <= last; s++) {
    const at = counts + 4 * <usize>load<u8>(lengths + s);
    store<u32>(at, load<u32>(at) + 1);
  }
  let code: u64 = 0;
  for (let l: u32 = LONGEST; l > 0; l--) {
    store<u64>(firstCode + 8 * l, code);
    code = (code + load<u32>(counts + 4 * l)) >> 1;
  }
  let index: u32 = 0;
  for (let l: u32 = 1; l <= LONGEST; l++) {
    store<u32>(firstIndex + 4 * l, index);
    store<u32>(nextIndex + 4 * l, index);
    index += load<u32>(counts + 4 * l);
  }
  for (let s = first; s <= last; s++) {
    const l = <usize>load<u8>(lengths + s);
    if (l == 0) continue;
    const k = load<u32>(nextIndex + 4 * l);
    store<u32>(symbols + 4 * k, s);
    store<u32>(nextIndex + 4 * l, k + 1);
  }
  // An entry is symbol * 64 + length; 0 where no short code begins so.
  memory.fill(table, 0, 4 << TABLE_BITS);
  for (let l: u32 = 1; l <= TABLE_BITS; l++) {
    const many = load<u32>(counts + 4 * l);
    const from = load<u64>(firstCode + 8 * l);
    if (from + many > 1 << l) return 1;
    for (let k: u32 = 0; k < many; k++) {
      const entry = (load<u32>(symbols + 4 * (load<u32>(firstIndex + 4 * l) + k)) << 6) | l;
      let at = table + 4 * ((<u32>from + k) << (TABLE_BITS - l));
      const end = at + (4 << (TABLE_BITS - l));
      for (; at < end; at += 4) store<u32>(at, entry);
    }
  }

  const outEnd = out + 2 * size;
  let to = out;
  held = 0;
  have = 0;
  let left: i64 = bitCount;
  while (left > 0) {
    if (have <= 32) {
      if (q > inEnd + 8) return 1;
      held |= (<u64>bswap<u32>(load<u32>(q))) << (32 - have);
      q += 4;
      have += 32;
    }
    const entry = load<u32>(table + 4 * <u32>(held >> (64 - TABLE_BITS)));
    let length: u32;
    let symbol: u32;
    if (entry) {
      length = entry & 63;
      symbol = entry >> 6;
    } else {
      while (have <= 56 && q < inEnd + 8) {
        held |= (<u64>load<u8>(q++)) << (56 - have);
        have += 8;
      }
      symbol = 0xffffffff;
      for (length = TABLE_BITS + 1; length <= LONGEST; length++) {
        const k = (held >> (64 - length)) - load<u64>(firstCode + 8 * length);
        if (k < <u64>load<u32>(counts + 4 * length)) {
          symbol = load<u32>(symbols + 4 * (load<u32>(firstIndex + 4 * length) + <u32>k));
          break;
        }
      }
      if (symbol == 0xffffffff || length > have) return 1;
    }
    held <<= length;
    have -= length;
    left -= length;
    if (symbol == last) {
      if (have < 8) {
        if (q > inEnd + 8) return 1;
        held |= (<u64>bswap<u32>(load<u32>(q))) << (32 - have);
        q += 4;
        have += 32;
      }
      let run = <u32>(held >> 56);
      held <<= 8;
      have -= 8;
      left -= 8;
      if (to + 2 * run > outEnd || to == out) return 1;
      const value = load<u16>(to - 2);
      for (; run > 0; run--) {
        store<u16>(to, value);
        to += 2;
      }
    } else {
      if (to >= outEnd) return 1;
      store<u16>(to, <u16>symbol);
      to += 2;
    }
  }
  return to == outEnd ? 0 : 1;
}

function undo14(low: u32, high: u32): u32 {
  const h = <i32>(<i16>high);
  const a = <i32>(<i16>low) + (h & 1) + (h >> 1);
  return ((a & 0xffff) << 16) | ((a - h) & 0xffff);
}
function undo16(low: u32, high: u32): u32 {
  const b = (low - (high >> 1)) & 0xffff;
  return (((high + b - 32768) & 0xffff) << 16) | b;
}
function undo(plain: bool, low: u32, high: u32): u32 {
  return plain ? undo14(low, high) : undo16(low, high);
}

function wavelet(plain: bool, words: usize, nx: u32, ox: u32, ny: u32, oy: u32): void {
  const n = min(nx, ny);
  let p: u32 = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  while (p >= 1) {
    const oy1 = oy * p * 2;
    const oy2 = oy * p2 * 2;
    const ox1 = ox * p * 2;
    const ox2 = ox * p2 * 2;
    let py = words;
    const yEnd = words + 2 * oy * (ny - p2);
    for (; py <= yEnd; py += oy2) {
      let px = py;
      const xEnd = py + 2 * ox * (nx - p2);
      for (; px <= xEnd; px += ox2) {
        const below = px + oy1;
        const left = undo(plain, load<u16>(px), load<u16>(below));
        const right = undo(plain, load<u16>(px + ox1), load<u16>(below + ox1));
        const top = undo(plain, left >>> 16, right >>> 16);
        const bottom = undo(plain, left & 0xffff, right & 0xffff);
        store<u16>(px, <u16>(top >>> 16));
        store<u16>(px + ox1, <u16>top);
        store<u16>(below, <u16>(bottom >>> 16));
        store<u16>(below + ox1, <u16>bottom);
      }
      if (nx & p) {
        const below = px + oy1;
        const pair = undo(plain, load<u16>(px), load<u16>(below));
        store<u16>(below, <u16>pair);
        store<u16>(px, <u16>(pair >>> 16));
      }
    }
    if (ny & p) {
      let px = py;
      const xEnd = py + 2 * ox * (nx - p2);
      for (; px <= xEnd; px += ox2) {
        const pair = undo(plain, load<u16>(px), load<u16>(px + ox1));
        store<u16>(px + ox1, <u16>pair);
        store<u16>(px, <u16>(pair >>> 16));
      }
    }
    p2 = p;
    p >>= 1;
  }
}

/** Undoes the wavelet of `nx` columns, `ox` words apart, and `ny` rows, `oy` words apart, in place. */
export function unwavelet(words: usize, nx: u32, ox: u32, ny: u32, oy: u32, maximum: u32): void {
  if (maximum < 1 << 14) wavelet(true, words, nx, ox, ny, oy);
  else wavelet(false, words, nx, ox, ny, oy);
}

/** Takes the table of values from a bit map of 8192 bytes. Returns the largest number that it holds. */
export function makeValues(bitmap: usize): u32 {
  let count: u32 = 0;
  for (let value: u32 = 0; value < 65536; value++)
    if (value == 0 || load<u8>(bitmap + (value >> 3)) & (1 << (value & 7)))
      store<u16>(values + 2 * count++, <u16>value);
  // Numbers that no value has read as 0, as in the plain code.
  memory.fill(values + 2 * count, 0, 2 * (65536 - count));
  return count - 1;
}

/** Turns `n` numbers at `words` into values. */
export function toValues(words: usize, n: u32): void {
  const end = words + 2 * <usize>n;
  for (let at = words; at < end; at += 2) store<u16>(at, load<u16>(values + 2 * <usize>load<u16>(at)));
}
